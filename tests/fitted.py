"""Works that fit, for the tests of works and of the window."""

from zealous_crane.work.work import Work


def sleeve_and_bottom(rests=None, lip="in"):
    common = {
        "metal": "galvanized",
        "thickness": "26 ga",
        "brake": "apiary-finger-50",
        "units": "in",
    }
    sleeve = {
        "kind": "sleeve",
        "length": "2 in",
        "width": "2 in",
        "height": "2 in",
        "tab": "1/2 in",
        "hem": "1/2 in",
        "lip": lip,
        "lip_width": "1/2 in",
    }
    sizes = [{"follower": size, "master": size} for size in ("length", "width")]
    return Work.model_validate(
        {
            "parts": [
                {"name": "sleeve", "part": sleeve, **common},
                {
                    "name": "bottom",
                    "part": {"kind": "plate", "length": "2 in", "width": "2 in"},
                    **common,
                },
            ],
            "fits": [
                {
                    "follower": 1,
                    "master": 0,
                    "rule": "inside",
                    "sizes": sizes,
                    "clearance": "1/32 in",
                    "rests": rests,
                }
            ],
        }
    )
