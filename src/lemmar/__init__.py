"""Lemmar proves before a release that every client of a monorepo speaks the same locales, whole and intact.

From Python, all of it is one call::

    from lemmar import LemmarError, audit

    found = audit("lemmar.toml")
    print(found.verdict, len(found.findings))

What comes back is a `lemmar.findings.Verdict`; what goes wrong is a `LemmarError`.
"""

__version__ = "0.1.0"

TYPE_CHECKING = False
if TYPE_CHECKING:
    from lemmar.api import LemmarError, audit

__all__ = ["LemmarError", "__version__", "audit"]


def __getattr__(name: str) -> object:  # a program that only starts imports next to nothing, so that a signal finds it ready
    if name not in ("LemmarError", "audit"):
        raise AttributeError(f"module 'lemmar' has no attribute {name!r}")
    from lemmar import api

    return getattr(api, name)
