"""A client in one file, made of the OpenAPI document: a function a route, by Python's own library alone."""

from __future__ import annotations

import keyword
import re
from collections.abc import Iterator
from typing import Any

HEAD = '''"""Ask a Curve Rank installation; made of its OpenAPI document, version {version}."""

from __future__ import annotations

import json
import urllib.parse
import urllib.request
from typing import Any


class Client:
    """An installation, asked with a token of one's own.

    A name that is a word of Python's ends in a line: with_=["dumbbell"]. Several values are a list.
    JSON is read, files are bytes. What is refused raises urllib.error.HTTPError, whose body says why.
    """

    def __init__(self, token: str = "", at: str = "{server}") -> None:
        self.at, self.token = at.rstrip("/"), token

    def _ask(self, method: str, path: str, asked: dict[str, Any], kind: str) -> Any:
        named = {{key.rstrip("_"): value for key, value in asked.items() if value is not None}}
        sent = urllib.parse.urlencode(named, doseq=True)
        address = self.at + path + ("?" + sent if sent and method == "GET" else "")
        request = urllib.request.Request(address, sent.encode() if method == "POST" else None, method=method)
        request.add_header("Accept", kind)
        if self.token:
            request.add_header("Authorization", "Bearer " + self.token)
        with urllib.request.urlopen(request) as answer:
            body = answer.read()
        return json.loads(body) if kind == "application/json" else body
'''
ROUTE = '''
    def {name}(self{places}{named}) -> Any:
        """{words}."""
        return self._ask("{method}", {path}, {asked}, "{kind}")
'''


def client_code(document: dict[str, Any]) -> str:
    """The text of the client.

    Parameters
    ----------
    document : dict
        As `openapi.document` makes it.
    """
    head = HEAD.format(version=document["info"]["version"], server=document["servers"][0]["url"])
    return head + "".join(_routes(document))


def _routes(document: dict[str, Any]) -> Iterator[str]:
    schemas = document["components"]["schemas"]
    for path, methods in document["paths"].items():
        for method, one in methods.items():
            places = [p["name"] for p in one["parameters"] if p["in"] == "path"]
            named = [p["name"] for p in one["parameters"] if p["in"] == "query"]
            for form in one.get("requestBody", {}).get("content", {}).values():
                named += schemas[form["schema"]["$ref"].rpartition("/")[2]].get("properties", {})
            (kind,) = one["responses"]["201" if method == "post" else "200"]["content"]
            yield ROUTE.format(
                name=_name(one["operationId"]),
                places="".join(f", {_python(place)}: str" for place in places),
                named=", *" + "".join(f", {_python(key)}: Any = None" for key in named) if named else "",
                words=one["summary"].replace("’", "'"),
                method=method.upper(),
                path=_address(path, places),
                asked="{" + ", ".join(f'"{key}": {_python(key)}' for key in named) + "}",
                kind=kind,
            )


def _name(operation: str) -> str:
    """Of a function: the page it asks, "_of" for one thing of it."""
    plain = re.sub(r"^(get|post)_|_json$", "", operation)
    return re.sub(r"_by_(variant_id|head|key)", "_of", plain)


def _python(name: str) -> str:
    return f"{name}_" if keyword.iskeyword(name) else name


def _address(path: str, places: list[str]) -> str:
    """The path as an expression; what stands in it is quoted."""
    if not places:
        return f'"{path}"'
    return 'f"' + re.sub(r"{(\w+)}", r"{urllib.parse.quote(\1, safe='')}", path) + '"'
