"""``make figure``: how each lookup answers the same six requests, drawn into `docs/fallback.png` from what the code computes.

Needs the extra ``figures`` (Matplotlib).
"""

from __future__ import annotations

from pathlib import Path

from lemmar import lookups
from lemmar.resolve.runtimes import land
from lemmar.resolve.world import Runtime
from lemmar.tags import Tag

OUT = Path(__file__).resolve().parent.parent / "docs" / "fallback.png"
SUPPORTED = tuple(map(Tag, ("en", "de", "fr-CA", "es-419", "zh-Hans", "zh-Hant", "sr", "sr-Latn", "no")))
REQUESTS = ("de-CH", "fr-CH", "es-MX", "zh-HK", "sr-ME", "nb-NO")
_COLOURS = {"own": "#cfe8d5", "other": "#f3dcb8", "default": "#e6e8eb"}


def main() -> None:
    """Draws the figure."""
    import matplotlib

    matplotlib.use("Agg")
    from matplotlib import patches, pyplot

    figure, axes = pyplot.subplots(figsize=(10.6, 5.4), dpi=120)
    axes.set_xlim(-1.35, len(REQUESTS))
    axes.set_ylim(len(lookups.names()) + 0.25, -1.1)
    axes.axis("off")
    for column, request in enumerate(REQUESTS):
        axes.text(column + 0.5, -0.35, request, ha="center", va="center", fontsize=12, fontweight="bold")
    for row, lookup in enumerate(lookups.names()):
        axes.text(-0.1, row + 0.5, lookup, ha="right", va="center", fontsize=12)
        runtime = Runtime(lookup, "message", SUPPORTED, Tag("en"), {})
        for column, request in enumerate(REQUESTS):
            found = land(runtime, request)
            same = found.tag.partition("-")[0] == request.partition("-")[0]
            kind = "default" if found.step == "the default" else "own" if same else "other"
            axes.add_patch(patches.Rectangle((column + 0.03, row + 0.06), 0.94, 0.88, facecolor=_COLOURS[kind], edgecolor="none"))
            shown = f"{found.tag} (default)" if kind == "default" else str(found.tag)
            axes.text(
                column + 0.5, row + 0.5, shown, ha="center", va="center", fontsize=11, color="#6b7280" if kind == "default" else "#111827"
            )
    axes.text(
        -1.3,
        len(lookups.names()) + 0.2,
        f"a client that has {', '.join(SUPPORTED)}; its default is en",
        fontsize=10,
        color="#374151",
        va="top",
    )
    figure.tight_layout()
    figure.savefig(OUT, metadata={"Software": None})
    print(f"docs/{OUT.name}")


if __name__ == "__main__":
    main()
