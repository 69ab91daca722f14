"""Pages and drawings as tests read them: parts by CSS, their text as a browser shows it."""

from __future__ import annotations

import re
from functools import cache

from cssselect import HTMLTranslator
from lxml import etree, html

SPACES = re.compile(r"[ \t\n]+")
AS_WRITTEN = ("pre", "textarea")
SILENT = ("script", "style", "template")
PARSER = html.HTMLParser(encoding="utf-8")


@cache
def _path(css: str) -> etree.XPath:
    return etree.XPath(HTMLTranslator().css_to_xpath(css))


class Part:
    """An element."""

    def __init__(self, element: html.HtmlElement) -> None:
        self.element = element

    def select(self, css: str) -> list[Part]:
        """All parts within that a selector names, in their order."""
        return [Part(found) for found in _path(css)(self.element) if found is not self.element]

    def select_one(self, css: str) -> Part | None:
        """The first of them."""
        return next(iter(self.select(css)), None)

    def __getitem__(self, name: str) -> str:
        return self.element.attrib[name]

    def get(self, name: str, default: str | None = None) -> str | None:
        """An attribute."""
        return self.element.get(name, default)

    @property
    def name(self) -> str:
        """What kind of element it is."""
        return str(self.element.tag)

    @property
    def parent(self) -> Part:
        """The element around it."""
        return Part(self.element.getparent())

    @property
    def string(self) -> str:
        """What is written in it, as it was sent."""
        return self.element.text or ""

    @property
    def text(self) -> str:
        """Its text."""
        return "".join(self._texts())

    def get_text(self, between: str = "", strip: bool = False) -> str:
        """Its texts, joined; strip: without space around each, empty ones left out."""
        texts = (text.strip() for text in self._texts()) if strip else self._texts()
        return between.join(text for text in texts if text or not strip)

    def _texts(self) -> list[str]:
        found, shown = [], self.name not in SILENT
        kept = any(around.tag in AS_WRITTEN for around in (self.element, *self.element.iterancestors()))
        _walk(self.element, found, shown, kept)
        return found

    def __str__(self) -> str:
        return html.tostring(self.element, encoding="unicode", with_tail=False)


def _walk(element: html.HtmlElement, found: list[str], shown: bool, kept: bool) -> None:
    if shown and element.text:
        found.append(element.text if kept else SPACES.sub(" ", element.text))
    for inner in element:
        if isinstance(inner.tag, str):
            _walk(inner, found, shown and inner.tag not in SILENT, kept or inner.tag in AS_WRITTEN)
        if shown and inner.tail:
            found.append(inner.tail if kept else SPACES.sub(" ", inner.tail))


def page_of(text: str) -> Part:
    """A page, or a piece of one, as parts."""
    return Part(html.document_fromstring(text.encode() or b"<html></html>", parser=PARSER))
