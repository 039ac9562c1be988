"""The brake as it stands today."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from ..bending.machines import machine_of
from ..brake.brake import Brake
from ..brake.library import with_available_pieces
from ..flat.blank import Blank
from ..flat.crossing import crossings
from ..flat.element import MadeBy
from ..flat.on_brake import flat_for
from ..i18n import JoinedText, msg, the, tr
from ..job.job import Job
from .build_plan import APART, failed, no, planned
from .gauging import GaugeBy, gauge_stops, settings_of
from .hand_finishing import lips
from .order_requests import ToolsError, WishError, Wishes
from .plan import Plan
from .route import Costs, Failure, Moves, Route, SearchOptions, Stages, Watch
from .search import MOST, Search
from .wording import aside

LAST_RESORTS = (Moves(part_way=(30.0, 60.0)), Moves(over=(10.0,)))
"""What is tried when no order of whole strokes is there: folds left part way and closed later; then
folds bent over by so much, to be opened by hand at the end."""

FEW = 8
"""Strokes up to which part-way folds are tried by themselves; beyond, the orders are too many."""

PART_WAY_LIMIT = 200
"""Strokes judged with each of these before it is given up."""

LIPS_LIMIT = 100
"""Strokes judged for any order of the rest, lips turned last by hand."""

SPARED_LIMIT = 300
"""Strokes judged for an order on the brake alone where lips turned by a hand seamer are known to
serve."""

WORTH = 1.0
"""What a walk must save over a change of tools, for one part, before the order is looked for again
with set-ups side by side: in a lot each change is shared by all parts."""

Progress = Callable[[int, tuple[str, ...], int], None]
"""Told how many strokes were judged, which folds stand where the search looks, and how many there
are."""


def make_plan(  # noqa: PLR0911, PLR0913
    job: Job,
    brake: Brake,
    *,
    blank: Blank | None = None,
    cancelled: Callable[[], bool] = lambda: False,
    progress: Progress = lambda judged, made, of: None,
    moves: Moves | None = None,
    limit: float = MOST,
    on_first_feasible: Callable[[Plan], None] | None = None,
) -> Plan:
    """Plan a job on a brake. No cures yet; see
    :func:`zealous_crane.planning.remedies.registry.advise`.

    Args:
        job: what is wanted.
        brake: the machine.
        blank: its flat, when already known.
        cancelled: asked now and then.
        progress: told how far the search is.
        moves: what may be tried beyond whole strokes; None tries folds left part way when nothing
            else goes.
        limit: strokes judged after which it gives up.
        on_first_feasible: told the plan of the first order that works, where one of those a hand
            would try first does, before a cheaper one is looked for.

    Raises:
        DevelopmentError: the part cannot be laid flat.
        Cancelled: ``cancelled`` said so.
    """
    blank, brake = blank or flat_for(job, brake), with_available_pieces(brake, job)
    strokes = [f for f in blank.folds if f.made_by in (MadeBy.BRAKE, MadeBy.HEM)]
    if not strokes:
        steps = aside(blank, (), job.units)
        apart = (
            JoinedText(tuple(s.message for s in steps), " ") if steps else msg("the part is flat.")
        )
        message = JoinedText((msg("Nothing for the brake: "), apart))
        return Plan(job, blank, brake, (), (), message, (), 0, steps, open=True)
    why = machine_of(brake).refused(blank, brake, job.units)
    if why is not None:
        return no(job, blank, brake, *why)
    through = crossings(blank)
    if through:
        # Whatever the order, the finished part would have two panels in one place.
        return no(
            job,
            blank,
            brake,
            msg("the finished part runs through itself"),
            tuple(f.says for f in through),
        )

    told = (
        None
        if on_first_feasible is None
        else lambda search, route: on_first_feasible(
            replace(planned(job, search, route), looking=True)
        )
    )
    try:
        search, result = _searched(job, blank, brake, moves, cancelled, progress, limit, told)
    except ToolsError as error:
        return no(job, blank, brake, msg("the tools asked for do not serve"), (str(error),))
    except WishError as error:
        return no(job, blank, brake, msg("the order asked for contradicts itself"), (str(error),))
    if isinstance(result, Failure):
        return failed(job, search, result)
    plan = _at_stations(planned(job, search, result), search, result)
    if job.gauging == GaugeBy.FEW.value and not job.order.orders:
        plan = _fewer_settings(plan, search)
    if not job.order.orders:
        # What is only to be done without leaves the order to the program: it is the best there is.
        return replace(plan, least_cost=plan.cost) if job.order.any else plan
    freed = job.model_copy(
        update={"order": job.order.model_copy(update={"sequence": (), "before": (), "clamp": {}})}
    )
    try:
        freely, best = _searched(freed, blank, brake, moves, cancelled, progress, limit)
    except WishError:
        return plan
    return (
        replace(plan, least_cost=_at_stations(planned(freed, freely, best), freely, best).cost)
        if isinstance(best, Route)
        else plan
    )


def _fewer_settings(plan: Plan, search: Search) -> Plan:
    """The plan, or one with the narrow sides against the stop where that takes fewer settings of
    it: what hands do with a chassis."""
    if plan.brake.gauge_reach is None or not machine_of(plan.brake).front_in_hand:
        return plan
    beside = search.at(search.choices.costs.edge_to_stop)
    route = beside.best()
    if not isinstance(route, Route):
        return plan
    other = planned(plan.job, beside, route)
    settings = [settings_of(gauge_stops(one, GaugeBy.FEW)) for one in (plan, other)]
    by_hand = [sum(stroke.verdict.by_hand for stroke in one.strokes) for one in (plan, other)]
    return (
        other
        if settings[1] < settings[0]
        and by_hand[1] <= by_hand[0] + 0.05
        and len(other.setups) <= len(plan.setups)
        else plan
    )


def _at_stations(plan: Plan, search: Search, route: Route) -> Plan:
    """The plan, or a cheaper one whose set-ups stand side by side: then an order with more of them
    may be the better one. Not looked for where there are so many orders that the route is not known
    to be the cheapest as it is."""
    saved = search.choices.costs.new_tools - search.choices.costs.stationed.new_tools
    if (len(plan.setups) == 1 and plan.complete) or saved < WORTH or not route.cheapest:
        return plan
    room = min(stroke.verdict.stroke.setting.span[1] for stroke in plan.strokes) * 2
    if 2 * room + APART > search.brake.bed_length:
        return plan
    beside = search.at(search.choices.costs.stationed)
    # The same order at walking costs is nothing new: whether its set-ups stand side by side was
    # looked at.
    walked = 0.0 if any(s.station for s in plan.setups) else saved
    result = beside.cheapest(plan.cost - (len(plan.setups) - 1) * walked - 1e-6)
    if result is None:
        return plan
    other = planned(plan.job, beside, result)
    stands = all(setup.tooling == other.setups[0].tooling for setup in other.setups) and any(
        s.station for s in other.setups
    )
    return other if stands or len(other.setups) == 1 else plan


def _searched(  # noqa: C901, PLR0913
    job: Job,
    blank: Blank,
    brake: Brake,
    moves: Moves | None,
    cancelled: Callable[[], bool],
    progress: Progress,
    most: float,
    on_first_feasible: Callable[[Search, Route], None] | None = None,
) -> tuple[Search, Route | Failure]:
    """The search that found an order, and the order; or the one that went farthest without.
    ``on_first_feasible`` is told what goes by a rule of practice, before every order is gone
    through."""
    count = sum(f.made_by in (MadeBy.BRAKE, MadeBy.HEM) for f in blank.folds)

    begun: list[Search] = []

    def search(tried: Moves | None, stages: Stages | None = None, limit: float = most) -> Search:
        begun.append(
            search_for(
                job,
                blank,
                brake,
                moves=tried,
                stages=stages,
                limit=limit,
                cancelled=cancelled,
                progress=lambda judged, made: progress(judged, made, count),
                after=begun[-1] if begun else None,
            )
        )
        return begun[-1]

    if blank.creases:
        tries = [search(None, stages) for stages in folded_corner_stages(blank)]
        _report_first_feasible(tries, on_first_feasible)
        results = [(s, s.best()) for s in tries]
        routes = [(s, r) for s, r in results if isinstance(r, Route)]
        return min(routes, key=lambda r: r[1].cost) if routes else results[0]
    last = search(moves)
    goes = _report_first_feasible([last], on_first_feasible)
    lips_may_wait = moves is None and "hand" not in job.order.avoid
    spare = None if goes or not lips_may_wait else _lips_by_hand(job, blank, brake, last, cancelled)
    if spare is not None:
        if on_first_feasible is not None:
            on_first_feasible(*spare)
        last = search(moves, limit=min(most, SPARED_LIMIT))
    result = last.best()
    if not isinstance(result, Route) and lips_may_wait:
        spare = spare or _lips_by_hand(job, blank, brake, last, cancelled, searched=True)
        if spare is not None:
            return spare
    if moves is not None or "part-way" in job.order.avoid or count > FEW:
        return last, result
    for stage in LAST_RESORTS:
        if isinstance(result, Route) or not result.complete:
            break
        further = search(stage, limit=min(most, PART_WAY_LIMIT))
        again = further.best()
        if isinstance(again, Route) or again.complete:
            last, result = further, again
    return last, result


def _report_first_feasible(
    searches: list[Search], on_first_feasible: Callable[[Search, Route], None] | None
) -> bool:
    """Report the first feasible rule-of-thumb order of some searches; False if there is none, or
    nobody asked."""
    if on_first_feasible is None:
        return False
    for search in searches:
        route = search.first_feasible()
        if route is not None:
            on_first_feasible(search, route)
            return True
    return False


def _lips_by_hand(
    job: Job,
    blank: Blank,
    brake: Brake,
    search: Search,
    cancelled: Callable[[], bool],
    *,
    searched: bool = False,
) -> tuple[Search, Route] | None:
    """Where no order of practice goes: the outermost lips turned by a hand seamer when all else is
    bent, if that serves; ``searched`` for in any order of the rest where no order of practice does
    there either."""
    groups = lips(blank)
    if not groups or not search.uses_rules_of_thumb or search.first_feasible() is not None:
        return None
    for group in groups:
        folds = tuple(
            replace(f, made_by=MadeBy.SEAMER) if i in group else f
            for i, f in enumerate(blank.folds)
        )
        limit = LIPS_LIMIT if searched else PART_WAY_LIMIT
        other = search_for(
            job, replace(blank, folds=folds), brake, limit=limit, cancelled=cancelled
        )
        route = other.best() if searched else other.first_feasible()
        if isinstance(route, Route):
            return other, route
    return None


def possible(  # noqa: PLR0913
    job: Job,
    brake: Brake,
    *,
    blank: Blank | None = None,
    by_hand: bool = True,
    thorough: bool = True,
    limit: float = MOST,
    cancelled: Callable[[], bool] = lambda: False,
) -> bool:
    """True when an order of whole strokes is found; no plan is built from it, and no reason is
    sought when there is none.

    Args:
        job: what is wanted.
        brake: the machine.
        blank: its flat, when already known.
        by_hand: what stops short may be finished by hand.
        thorough: search when none of the orders a hand would try first goes.
        limit: strokes judged after which it gives up.
        cancelled: asked now and then.

    Raises:
        DevelopmentError: the part cannot be laid flat.
        Cancelled: ``cancelled`` said so.
    """
    blank = blank or flat_for(job, brake)
    if (
        not any(f.made_by in (MadeBy.BRAKE, MadeBy.HEM) for f in blank.folds)
        or machine_of(brake).refused(blank, brake, job.units) is not None
        or crossings(blank)
    ):
        return False
    for stages in folded_corner_stages(blank) if blank.creases else (None,):
        try:
            search = search_for(
                job, blank, brake, stages=stages, limit=limit, cancelled=cancelled, by_hand=by_hand
            )
        except WishError:
            return False
        # Folds that come in stages, or in an order that was asked for, follow no rule of thumb:
        # they are searched.
        if search.first_feasible() is not None or (
            (thorough or not search.uses_rules_of_thumb) and search.cheapest() is not None
        ):
            return True
    return False


def search_for(  # noqa: PLR0913
    job: Job,
    blank: Blank,
    brake: Brake,
    *,
    moves: Moves | None = None,
    stages: Stages | None = None,
    limit: float = MOST,
    cancelled: Callable[[], bool] = lambda: False,
    progress: Callable[[int, tuple[str, ...]], None] = lambda judged, made: None,
    by_hand: bool = True,
    after: Search | None = None,
) -> Search:
    """The search for the order of a job, with all that the job asks of it; see :class:`Search`.

    Args:
        by_hand: what stops short may be finished by hand, where the job lets it.
    """
    order = job.order
    if not by_hand and "hand" not in order.avoid:
        order = order.model_copy(update={"avoid": (*order.avoid, "hand")})
    terms = SearchOptions(
        measured=job.springback,
        costs=Costs().for_quantity(job.quantity),
        moves=moves or Moves(),
        wishes=Wishes(order, tools=job.tools.of(brake.key)),
        stages=stages,
        bottomed=job.bottomed,
        tolerance=job.tolerance,
    )
    search = Search(blank, brake, terms, Watch(cancelled, progress, limit), after)
    unserved = search.choices.unserved
    if unserved is not None and job.tools.of(brake.key).asked(unserved):
        raise ToolsError(
            tr(
                "No set-up of this brake in this sheet is what was asked for at {fold}. Leave it "
                "to the program in Tool up."
            ).format(fold=the(unserved))
        )
    return search


def folded_corner_stages(blank: Blank) -> tuple[Stages, Stages]:
    """A pan whose corners are folded, not cut: two opposite walls to 30°, the other two all the
    way, the ears by hand, the first two closed. Both choices of the first two. Common practice, no
    source."""
    carriers = {f.parent for f in blank.folds if f.made_by is MadeBy.HAND}
    walls = [i for i, f in enumerate(blank.folds) if f.made_by is MadeBy.BRAKE]
    one = [i for i in walls if blank.folds[i].child in carriers]
    other = [i for i in walls if i not in one]

    def stages(first: list[int], then: list[int]) -> Stages:
        return (
            tuple((i, 30.0) for i in first),
            tuple((i, None) for i in then),
            tuple((i, None) for i in first),
        )

    return stages(one, other), stages(other, one)
