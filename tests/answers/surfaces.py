"""One answer wherever it is shown: page, data, shell, tables, published copy, printed page; as text."""

from __future__ import annotations

import html
import json
import re
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

import pypdfium2
from click.testing import CliRunner
from flask.testing import FlaskClient

from curve_rank.cli.main import main
from tests.helpers import asked_until

UNDER_WAY = re.compile(r'data-drawing|x-data="drawing"')
NOT_READ = re.compile(r"<(script|style|svg|select|template)\b.*?</\1>", re.S)


def words_of(page: str) -> str:
    """What somebody reads of a page, without what can be chosen and what is drawn."""
    return " ".join(html.unescape(re.sub(r"<[^>]+>", " ", NOT_READ.sub(" ", page))).split())


def words_of_pdf(data: bytes) -> str:
    """What somebody reads of a printed page."""
    pages = pypdfium2.PdfDocument(data)
    return " ".join(" ".join(page.get_textpage().get_text_bounded() for page in pages).split())


def printed(value: float, digits: int = 0) -> str:
    """A number as it is printed: with a true minus, and none before what rounds to nothing."""
    return f"{value:z.{digits}f}".replace("-", "−")


@dataclass(frozen=True)
class Surfaces:
    """Where answers are asked for: over HTTP, and from a shell in the same folder."""

    client: FlaskClient
    folder: str

    def page(self, address: str) -> str:
        """A page's words, once it has what it stands on."""
        return words_of(asked_until(self.client, address, lambda page: not UNDER_WAY.search(page.text)).text)

    def data(self, address: str) -> Any:
        """A page's twin."""
        answer = self.client.get(address)
        assert answer.status_code == 200, (address, answer.text[:300])
        return answer.get_json()

    def file(self, address: str) -> str:
        """A table's or a calendar's text."""
        return asked_until(self.client, address, lambda answer: answer.status_code != 202).text

    def pdf(self, address: str) -> str:
        """A printed page's words."""
        return words_of_pdf(asked_until(self.client, address, lambda answer: answer.status_code != 202).data)

    def shell(self, *arguments: str) -> str:
        """What a command prints."""
        return self.shell_in_no_folder(*arguments, "--data", self.folder)

    def shell_in_no_folder(self, *arguments: str) -> str:
        """What a command prints that needs no data."""
        done = CliRunner().invoke(main, [*arguments])
        assert done.exit_code == 0, (arguments, done.output)
        return " ".join(done.stdout.split())

    def shell_data(self, *arguments: str) -> Any:
        """What a command prints as JSON."""
        return json.loads(self.shell(*arguments, "--json"))

    def published(self, address: str) -> tuple[str, Any, str]:
        """The words, data and printed words of a page that is published now."""
        made = self.client.post(address)
        assert made.status_code == 303, made.text[:300]
        link = re.findall(r'href="(/p/[^".]+)"', self.client.get("/published").text)[0]
        return self.page(link), self.data(link + ".json"), self.pdf(link + ".pdf")


def missing(text: str, facts: Iterable[str]) -> list[str]:
    """Those of the facts that a text does not hold, each after the one before."""
    at, lacking = 0, []
    for fact in facts:
        found = text.find(fact, at)
        if found < 0:
            lacking.append(fact)
        else:
            at = found + len(fact)
    return lacking
