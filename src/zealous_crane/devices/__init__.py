"""Instruments that are read and a stop that is driven, over a serial line, by a protocol of our
own.

Every line is plain text, ended by a line feed, figures with a decimal point, lengths in mm, angles
in degrees bent from flat::

    instrument → program    ANGLE 88.50        SIZE 25.12
    program → back gauge    GO 68.260          STOP
    back gauge → program    AT 68.257          REFUSED over its travel

``STOP`` halts a stop that moves: it is sent when the program no longer waits for its answer, or
when the page of the bend is left. Nothing else is sent; a line that is not understood is skipped.
``simulated`` holds stand-ins that ship with the program.
"""
