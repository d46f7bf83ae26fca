"""What is taken along from a page, and as what."""

from __future__ import annotations

from curve_rank.answers.requests import RequestForm
from curve_rank.exchange.leaflet import Paper, Size


class Taken(RequestForm):
    """The address of the page, without its host."""

    page: str = ""


class PictureTaken(Taken):
    """Which of its pictures, how large and on which paper; without a name the one that stands for all."""

    picture: str = ""
    paper: Paper = "light"
    size: Size = "slide"
