"""A sheet as HTML and as PDF: black on white, fonts embedded, text to select, tagged, with title and language."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from html import escape
from typing import Any, Literal

from imbuto.formats.printing.labels import PAPER, faces

FIT = "The calculation fits. No one has inspected the wiring, and this is not an approval or a permit."


@dataclass(frozen=True, slots=True)
class Paragraph:
    """A paragraph. strong: set apart."""

    text: str
    strong: bool = False


@dataclass(frozen=True, slots=True)
class Bullets:
    """A list.

    boxed: in a frame, to be read first
    ticks: with a box to tick before each
    """

    items: tuple[str, ...]
    boxed: bool = False
    ticks: bool = False


@dataclass(frozen=True, slots=True)
class TableRows:
    """A table."""

    head: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]


@dataclass(frozen=True, slots=True)
class NumberedSteps:
    """Numbered steps that stay on one page: what is done, and what belongs to it."""

    steps: tuple[tuple[str, tuple[tuple[str, str], ...]], ...]


@dataclass(frozen=True, slots=True)
class Picture:
    """A drawing, as SVG of our own making."""

    svg: str
    key: str = ""


@dataclass(frozen=True, slots=True)
class Tags:
    """Labels to cut out: a large word, and lines under it."""

    tags: tuple[tuple[str, tuple[str, ...]], ...]


Block = Paragraph | Bullets | TableRows | NumberedSteps | Picture | Tags
Fonts = Literal["file", "inside", "none"]


@dataclass(frozen=True, slots=True)
class SheetPart:
    """A heading with what stands under it.

    spare: left out of a card that would need a second side for it
    """

    title: str
    blocks: tuple[Block, ...]
    spare: bool = False


@dataclass(frozen=True, slots=True)
class Sheet:
    """A sheet of paper.

    foot: plan, revision, day and hand
    wide: landscape
    card: to fit one page, in two columns, at pt points; 0 for the usual size
    sides: a card has
    """

    id: str
    title: str
    under: str
    parts: tuple[SheetPart, ...]
    foot: str
    wide: bool = False
    card: bool = False
    pt: float = 0.0
    sides: int = 1


def html(
    sheets: Sequence[Sheet],
    *,
    paper: Literal["letter", "a4"],
    large: bool,
    title: str,
    fonts: Fonts,
    counted: bool | None = None,
) -> str:
    """One document of all sheets, with contents where they are several; every word escaped, no script, nothing fetched.

    fonts: from this machine's files, for a PDF; inside, for a page that is carried away; or none of its own
    counted: the foot says of how many pages, and where it is not said only that of a single sheet
    """
    style = _style(paper, large=large, fonts=fonts, of=len(sheets) == 1 if counted is None else counted)
    contents = ""
    if len(sheets) > 1:
        rows = "".join(f'<li><a href="#{escape(s.id)}">{escape(s.title)}</a></li>' for s in sheets)
        contents = f'<nav class=sheet aria-label="Contents"><h1>{escape(title)}</h1><ol>{rows}</ol></nav>'
    body = "".join(_sheet(s) for s in sheets)
    return (
        "<!doctype html><html lang=en><meta charset=utf-8><meta name=viewport "
        'content="width=device-width"><link rel=icon href="data:,">'
        f"<title>{escape(title)}</title><style>{style}</style>{contents}<main>{body}</main></html>"
    )


def pdf(page: str) -> bytes:
    """A page as a tagged PDF. Nothing is fetched but the fonts that ship. Raises OSError where the text-drawing
    libraries of the system are missing."""
    made: bytes = _made(page).write_pdf(pdf_tags=True)
    return made


SIZES = tuple(x / 4 for x in range(28, 45))  # points of a card, from the smallest that is legible by a flashlight
SHORT = 18  # lines that are never parted by the end of a page
COLUMN_CHARS = 66  # of a card's column at 8 points, about
COLUMN_PT = 4_160.0  # lines so long times their size squared, that a column has room for
MOST_PAGES = 2  # of a card: its two sides


def fit_on_one_page(sheet: Sheet, paper: Literal["letter", "a4"]) -> Sheet:
    """A card in the largest print in which it fits on one page, without its spare parts where that makes the difference,
    or with so much on it on both sides of one. Raises OSError where the text-drawing libraries of the system are
    missing."""
    found = _largest(replace(sheet, sides=1), paper)
    kept = tuple(p for p in sheet.parts if not p.spare)
    if found is None and len(kept) < len(sheet.parts):
        found = _largest(replace(sheet, sides=1, parts=kept), paper)
    for sides in range(2, MOST_PAGES + 1):
        found = found or _largest(replace(sheet, sides=sides), paper)
    return found or replace(sheet, sides=MOST_PAGES, pt=SIZES[0])


def _largest(sheet: Sheet, paper: Literal["letter", "a4"]) -> Sheet | None:
    """A card in the largest print in which it fits on its sides; None where it does not in the smallest."""
    long = max(sum(map(_lines, some)) for some in _cut(sheet.parts, 2 * sheet.sides))
    guess = min(range(len(SIZES)), key=lambda i: abs(SIZES[i] - (COLUMN_PT / max(long, 1.0)) ** 0.5))
    # Every size that is tried is a page drawn. From the guess on in steps that double, then halving what is left.
    fits, past, at, step = -1, len(SIZES), guess, 1
    while past - fits > 1:
        if pages_of(replace(sheet, pt=SIZES[at]), paper) <= sheet.sides:
            fits = at
        else:
            past = at
        if past == len(SIZES) or fits < 0:
            at = min(fits + step, past - 1) if past == len(SIZES) else max(past - step, fits + 1)
            step *= 2
        else:
            at = (fits + past) // 2
    return replace(sheet, pt=SIZES[fits]) if fits >= 0 else None


def pages_of(sheet: Sheet, paper: Literal["letter", "a4"]) -> int:
    """Pages that a sheet takes."""
    page = html([sheet], paper=paper, large=False, title=sheet.title, fonts="file", counted=False)
    return len(_made(page).render().pages)


def _made(page: str) -> Any:
    from weasyprint import HTML  # slow to load, and only wanted here
    from weasyprint.urls import URLFetcher

    return HTML(string=page, url_fetcher=URLFetcher(allowed_protocols={"file"}))


def _sheet(sheet: Sheet) -> str:
    parts = "".join(map(_part, sheet.parts))
    if sheet.card:
        columns = [
            f"<div class=column>{''.join(map(_part, some))}</div>" for some in _cut(sheet.parts, 2 * sheet.sides)
        ]
        parts = "".join(f"<div class=columns>{''.join(columns[i : i + 2])}</div>" for i in range(0, len(columns), 2))
    kinds = " ".join(["sheet", *(["wide"] if sheet.wide else []), *(["card"] if sheet.card else [])])
    reach = " tabindex=0" if sheet.wide else ""  # a keyboard reaches what may be wider than a screen
    size = f' style="font-size:{sheet.pt:g}pt"' if sheet.pt else ""
    return (
        f'<article{reach} class="{kinds}" id="{escape(sheet.id)}"{size}>'
        f"<footer>{escape(sheet.foot)} {escape(FIT)}</footer>"
        f"<header><h1>{escape(sheet.title)}</h1><p class=under>{escape(sheet.under)}</p></header>"
        f"{parts}</article>"
    )


def _part(part: SheetPart) -> str:
    head = f"<h2>{escape(part.title)}</h2>" if part.title else ""
    keep = " class=keep" if _lines(part) < SHORT else ""
    return f"<section{keep}>{head}{''.join(map(_block, part.blocks))}</section>"


def _cut(parts: Sequence[SheetPart], n: int) -> list[Sequence[SheetPart]]:
    """In n columns, the longest of them as short as may be, in their order; none is parted."""
    long = [_lines(p) for p in parts]

    def within(most: float) -> list[Sequence[SheetPart]]:
        found: list[list[SheetPart]] = [[]]
        room = most
        for part, lines in zip(parts, long, strict=True):
            if lines > room and found[-1]:
                found.append([])
                room = most
            found[-1].append(part)
            room -= lines
        return [*found]

    ways = sorted({sum(long[i:j]) for i in range(len(long)) for j in range(i + 1, len(long) + 1)})
    best = next((cut for most in ways if len(cut := within(most)) <= n), [parts])
    return [*best, *([[]] * (n - len(best)))]


def _lines(part: SheetPart) -> float:
    """About how many lines of a card's column it takes."""
    total = 1.9
    for b in part.blocks:
        if isinstance(b, Paragraph):
            total += _wraps(b.text) + 0.3
        elif isinstance(b, Bullets):
            total += sum(map(_wraps, b.items)) + (1.0 if b.boxed else 0.4)
        elif isinstance(b, TableRows):
            total += 1.4 * len(b.rows) + 1.4
        elif isinstance(b, NumberedSteps):
            total += sum(_wraps(" ".join([what, *(v for _, v in more)])) + 0.25 for what, more in b.steps)
    return total


def _wraps(text: str) -> float:
    return float(-(-len(text) // COLUMN_CHARS))


def _block(block: Block) -> str:
    if isinstance(block, Paragraph):
        return f"<p>{'<strong>' if block.strong else ''}{escape(block.text)}{'</strong>' if block.strong else ''}</p>"
    if isinstance(block, Bullets):
        kind = " class=boxed" if block.boxed else " class=ticks" if block.ticks else ""
        return f"<ul{kind}>{''.join(f'<li>{escape(i)}</li>' for i in block.items)}</ul>"
    if isinstance(block, TableRows):
        head = "".join(f"<th scope=col>{escape(h)}</th>" if h else "<td></td>" for h in block.head)
        head = f"<thead><tr>{head}</tr></thead>" if any(block.head) else ""
        rows = "".join(f"<tr>{''.join(f'<td>{escape(c)}</td>' for c in row)}</tr>" for row in block.rows)
        return f"<table>{head}<tbody>{rows}</tbody></table>"
    if isinstance(block, Picture):
        key = f"<p class=key>{escape(block.key)}</p>" if block.key else ""
        return f"<figure>{block.svg}{key}</figure>"
    if isinstance(block, Tags):
        tags = "".join(
            f"<li><b>{escape(head)}</b>{''.join(f'<span>{escape(x)}</span>' for x in lines)}</li>"
            for head, lines in block.tags
        )
        return f"<ul class=tags>{tags}</ul>"
    steps = "".join(
        f"<li><strong>{escape(what)}</strong>{''.join(f'<p> <i>{escape(k)}</i> {escape(v)}</p>' for k, v in more)}</li>"
        for what, more in block.steps
    )
    return f"<ol class=steps>{steps}</ol>"


def _drawn(paper: str) -> str:
    """How high a drawing on a landscape page may be, with its heading and foot."""
    return "118mm" if paper == "a4" else "122mm"


def _foot(*, of: bool) -> str:
    """The foot of every page: whose sheet it is, and which page. of: and of how many, for which every page is laid
    out twice."""
    pages = ' " / " counter(pages)' if of else ""
    return (
        "@bottom-left { content: element(foot); width: 88%; vertical-align: top; border-top: 1pt solid #000; "
        "padding-top: 1.5mm; }"
        f" @bottom-right "
        f'{{ content: counter(page){pages}; width: 12%; font: 8.5pt "Imbuto Text", "DejaVu Sans", sans-serif; '
        "vertical-align: top; border-top: 1pt solid #000; padding-top: 1.5mm; text-align: right; }"
    )


def _style(paper: str, *, large: bool, fonts: Fonts, of: bool) -> str:
    size = "15pt" if large else "10.5pt"
    return (
        ("" if fonts == "none" else faces(inside=fonts == "inside"))
        + f"""
    @page {{ size: {PAPER[paper]}; margin: 13mm 14mm 17mm; {_foot(of=of)} }}
    body {{ font: {size}/1.35 "Imbuto Text", "DejaVu Sans", sans-serif; color: #000; background: #fff; margin: 0 auto; }}
    @media screen {{ body {{ max-width: 190mm; }} .wide {{ overflow-x: auto; }} }}
    h1, h2 {{ font-family: "Imbuto Head", "DejaVu Sans", sans-serif; margin: 0; }}
    h1 {{ font-size: 1.9em; line-height: 1.1; }} h2 {{ font-size: 1.25em; margin: .8em 0 .2em; break-after: avoid; }}
    .sheet {{ break-after: page; padding: 4mm 0; }} .sheet:last-child {{ break-after: auto; }}
    .under {{ margin: .2em 0 .6em; }} p {{ margin: .25em 0; }}
    ul, ol {{ margin: .3em 0; padding-left: 1.4em; }} li {{ margin: .12em 0; break-inside: avoid; }}
    .boxed {{ border: 2pt solid #000; padding: .4em .8em .4em 2em; break-inside: avoid; }}
    .ticks {{ list-style: none; padding: 0; }} .ticks li::before {{ content: "\\2610\\00a0"; font-family: "DejaVu Sans", sans-serif; }}
    .steps > li {{ margin: .35em 0; padding-bottom: .2em; border-bottom: .5pt solid #000; }} .steps p {{ margin: 0; }}
    @page wide {{ size: {" ".join(reversed(PAPER[paper].split()))}; margin: 11mm 12mm 16mm; }}
    @page card {{ size: {PAPER[paper]}; margin: 8mm 9mm 15mm; }} .card {{ page: card; }}
    .wide {{ page: wide; max-width: none; }} figure {{ margin: .4em 0; break-inside: avoid; }} svg {{ width: 100%; height: auto; }}
    .wide svg {{ max-height: {_drawn(paper)}; }}
    .key {{ font-size: .85em; }}
    .columns + .columns {{ break-before: page; }}
    .columns {{ display: table; width: 100%; table-layout: fixed; }} .column {{ display: table-cell; padding-right: 3mm; }}
    .column + .column {{ padding: 0 0 0 3mm; }}
    .card section, .keep {{ break-inside: avoid; }} .card h2 {{ margin-top: .5em; }}
    .card .steps > li {{ margin: .1em 0; padding-bottom: .08em; line-height: 1.2; }} .card .steps p {{ display: inline; }}
    i {{ font-style: normal; font-weight: 600; }}
    .card.sheet {{ padding: 0; line-height: 1.22; }} .card .under {{ margin: 0 0 .3em; }}
    .tags {{ list-style: none; padding: 0; display: flex; flex-wrap: wrap; gap: 3mm; }}
    .tags li {{ border: 1pt dashed #000; padding: 2mm 3mm; width: 48mm; }}
    .tags b {{ font-size: 1.4em; display: block; }} .tags span {{ display: block; }}
    table {{ width: 100%; border-collapse: collapse; margin: .3em 0; font-size: .92em; }}
    th, td {{ border: .5pt solid #000; padding: .2em .4em; text-align: left; vertical-align: top; height: 1.35em; }}
    tr {{ break-inside: avoid; }}
    footer {{ font-size: 8.5pt; line-height: 1.2; }}
    @media print {{ footer {{ position: running(foot); }} }}
    @media screen {{ article {{ display: flex; flex-direction: column; }} footer {{ order: 9; margin-top: 1em;
      border-top: 1pt solid #000; }} }}
    """
    )
