"""Exit codes, all of them."""

from enum import IntEnum


class Exit(IntEnum):
    """What a command's exit code says."""

    #: The release is clear, or the command did what it was asked.
    CLEAR = 0
    #: The release is held; for `read`, some file has a defect.
    HOLD = 1
    #: The call or the charter is wrong.
    USAGE = 2
    #: The audit could not be completed.
    INCOMPLETE = 3
    #: A bug of Lemmar's own.
    BUG = 70
    #: The output could not be written.
    OUTPUT = 74
    #: Ctrl-C.
    INTERRUPTED = 130
    #: Asked to end.
    TERMINATED = 143
