"""A sheet as HTML and as PDF: black on white, fonts embedded, text to select, tagged, with title and language."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from html import escape
from typing import Literal

from imbuto.formats.labels import PAPER, faces

FIT = "The arithmetic fits. The wiring has not been inspected; this is not an approval or a permit."


@dataclass(frozen=True, slots=True)
class Words:
    """A paragraph. strong: set apart."""

    text: str
    strong: bool = False


@dataclass(frozen=True, slots=True)
class Bullets:
    """A list. boxed: in a frame, to be read first; ticks: with a box to tick before each."""

    items: tuple[str, ...]
    boxed: bool = False
    ticks: bool = False


@dataclass(frozen=True, slots=True)
class Rows:
    """A table."""

    head: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]


@dataclass(frozen=True, slots=True)
class Steps:
    """Numbered steps that stay on one page: what is done, and what belongs to it."""

    steps: tuple[tuple[str, tuple[tuple[str, str], ...]], ...]


Block = Words | Bullets | Rows | Steps
Fonts = Literal["file", "inside", "none"]


@dataclass(frozen=True, slots=True)
class Part:
    """A heading with what stands under it."""

    title: str
    blocks: tuple[Block, ...]


@dataclass(frozen=True, slots=True)
class Sheet:
    """A sheet of paper. foot: plan, revision, day and hand."""

    id: str
    title: str
    under: str
    parts: tuple[Part, ...]
    foot: str


def html(sheets: Sequence[Sheet], *, paper: Literal["letter", "a4"], large: bool, title: str, fonts: Fonts) -> str:
    """One document of all sheets, with contents where they are several; every word escaped, no script, nothing fetched. fonts: from
    this machine's files, for a PDF; inside, for a page that is carried away; or none of its own."""
    contents = ""
    if len(sheets) > 1:
        rows = "".join(f'<li><a href="#{escape(s.id)}">{escape(s.title)}</a></li>' for s in sheets)
        contents = f"<nav class=sheet><h1>{escape(title)}</h1><ol>{rows}</ol></nav>"
    body = "".join(_sheet(s) for s in sheets)
    return (
        '<!doctype html><html lang=en><meta charset=utf-8><meta name=viewport content="width=device-width">'
        f"<title>{escape(title)}</title><style>{_style(paper, large=large, fonts=fonts)}</style>{contents}{body}</html>"
    )


def pdf(page: str) -> bytes:
    """A page as a tagged PDF. Nothing is fetched but the fonts that ship. Raises OSError where the text-drawing libraries of the
    system are missing."""
    from weasyprint import HTML  # slow to load, and only wanted here
    from weasyprint.urls import URLFetcher

    made: bytes = HTML(string=page, url_fetcher=URLFetcher(allowed_protocols={"file"})).write_pdf(pdf_tags=True)
    return made


def _sheet(sheet: Sheet) -> str:
    parts = "".join(
        f"<section><h2>{escape(p.title)}</h2>{''.join(map(_block, p.blocks))}</section>" for p in sheet.parts
    )
    return (
        f'<article class=sheet id="{escape(sheet.id)}">'
        f"<header><h1>{escape(sheet.title)}</h1><p class=under>{escape(sheet.under)}</p></header>"
        f"{parts}<footer>{escape(sheet.foot)} {escape(FIT)}</footer></article>"
    )


def _block(block: Block) -> str:
    if isinstance(block, Words):
        return f"<p>{'<strong>' if block.strong else ''}{escape(block.text)}{'</strong>' if block.strong else ''}</p>"
    if isinstance(block, Bullets):
        kind = " class=boxed" if block.boxed else " class=ticks" if block.ticks else ""
        return f"<ul{kind}>{''.join(f'<li>{escape(i)}</li>' for i in block.items)}</ul>"
    if isinstance(block, Rows):
        head = "".join(f"<th scope=col>{escape(h)}</th>" for h in block.head)
        rows = "".join(f"<tr>{''.join(f'<td>{escape(c)}</td>' for c in row)}</tr>" for row in block.rows)
        return f"<table><thead><tr>{head}</tr></thead><tbody>{rows}</tbody></table>"
    steps = "".join(
        f"<li><strong>{escape(what)}</strong>{''.join(f'<p><i>{escape(k)}</i> {escape(v)}</p>' for k, v in more)}</li>"
        for what, more in block.steps
    )
    return f"<ol class=steps>{steps}</ol>"


def _style(paper: str, *, large: bool, fonts: Fonts) -> str:
    size = "15pt" if large else "10.5pt"
    return (
        ("" if fonts == "none" else faces(inside=fonts == "inside"))
        + f"""
    @page {{ size: {PAPER[paper]}; margin: 14mm 15mm; }}
    body {{ font: {size}/1.35 "Imbuto Text", "DejaVu Sans", sans-serif; color: #000; background: #fff; margin: 0 auto; max-width: 190mm; }}
    h1, h2 {{ font-family: "Imbuto Head", "DejaVu Sans", sans-serif; margin: 0; }}
    h1 {{ font-size: 1.9em; line-height: 1.1; }} h2 {{ font-size: 1.25em; margin: .8em 0 .2em; break-after: avoid; }}
    .sheet {{ break-after: page; padding: 4mm 0; }} .sheet:last-child {{ break-after: auto; }}
    .under {{ margin: .2em 0 .6em; }} p {{ margin: .25em 0; }}
    ul, ol {{ margin: .3em 0; padding-left: 1.4em; }} li {{ margin: .12em 0; break-inside: avoid; }}
    .boxed {{ border: 2pt solid #000; padding: .4em .8em .4em 2em; break-inside: avoid; }}
    .ticks {{ list-style: none; padding: 0; }} .ticks li::before {{ content: "\\2610\\00a0"; font-family: "DejaVu Sans", sans-serif; }}
    .steps > li {{ margin: .35em 0; padding-bottom: .2em; border-bottom: .5pt solid #000; }} .steps p {{ margin: 0; }}
    table {{ width: 100%; border-collapse: collapse; margin: .3em 0; font-size: .92em; }}
    th, td {{ border: .5pt solid #000; padding: .2em .4em; text-align: left; vertical-align: top; }} tr {{ break-inside: avoid; }}
    footer {{ margin-top: 1em; padding-top: .3em; border-top: 1pt solid #000; font-size: .82em; }}
    """
    )
