"""Measure: files mended in place, captures kept and folded, pictures read, checked and deleted."""

from __future__ import annotations

import io
import json
import re
import threading
from collections.abc import Callable, Iterator

import numpy as np
import pytest
from flask import Flask
from flask.testing import FlaskClient

from curve_rank.exchange.simulated_device import DeviceServer, SimulatedDevice, built_in_profile
from curve_rank.measure.marks import all_read, read_marks, validate_marks
from tests.exchange.test_uploads import HOSTILE
from tests.helpers import desk_of
from tests.photographs import KNOWN, Scene, as_jpeg, found_discs

ANGLE = np.linspace(5, 130, 60)


def table(delimiter: str = ";") -> list[str]:
    rows = [f"{a:.2f}{delimiter}{40 + 20 * np.sin(np.radians(a)):.3f}" for a in ANGLE]
    return [f"elbow angle [deg]{delimiter}torque [Nm]", *(row.replace(".", ",") for row in rows)]


def sent(client: FlaskClient, data: dict[str, object], file: bytes | None = None) -> str:
    if file is not None:
        data = data | {"file": (io.BytesIO(file), "../../etc/passwd;rm.csv")}
    answer = client.post(
        "/measure/file", data=data, content_type="multipart/form-data", follow_redirects=True
    )
    assert answer.status_code in (200, 400), answer.text[:300]
    return answer.text


def text_in(page: str) -> str:
    """The sheet's text that travels with the form."""
    found = re.search(r"<textarea[^>]*readonly>(.*?)</textarea>", page, re.S)
    assert found
    return found[1]


def test_a_file_is_read_mended_in_place_kept_and_used_by_a_variant(client: FlaskClient) -> None:
    rows = table()
    rows[3], rows[5] = "9,24;", "=1+1;44,0"
    page = sent(client, {}, "\n".join(rows).encode())
    assert "decimal comma" in page
    assert "2 rows cannot be read" in page
    refused = sent(client, {"text": text_in(page), "do": "keep", "name": "Barn pad", "stack": "20"})
    assert "mend them, or tick that they be left out" in refused
    mended = {"cell-4-1": "43,2", "cell-6-0": "13,5", "text": text_in(page), "do": "look"}
    page = sent(client, mended)
    assert "cannot be read" not in page
    kept = sent(client, {"text": text_in(page), "do": "keep", "name": "Barn pad", "stack": "20"})
    assert "<h1>Barn pad</h1>" in kept
    assert "from a file: 60 samples" in " ".join(kept.split())
    for ending, begins in (
        (".csv", "Elbow [°]"),
        (".md", "|"),
        ("/curve.svg", "<svg"),
        ("/curve.png", "PNG"),
    ):
        got = client.get(f"/measure/profile/own-barn-pad{ending}")
        assert begins.encode() in got.data[:20], ending
    into = "/measure/profile/own-barn-pad/into"
    made = client.post(into, data={"variant": "machine-pad-curl", "name": "Barn pad curl"})
    assert made.location == "/bench/own-barn-pad-curl?ghost=machine-pad-curl"
    text = json.loads(client.get("/bench/own-barn-pad-curl/document.json").text)
    profile = dict(map(tuple, text["lines"][0]["profile"]))
    assert profile[5.0] == pytest.approx(-(40 + 20 * np.sin(np.radians(5))) / 20, abs=0.01)
    assert client.post(into, data={"variant": "chin-up", "name": "x"}).status_code == 400
    assert "Barn pad" in client.get("/measure").text


def test_good_rows_alone_are_kept_only_when_that_is_asked(client: FlaskClient) -> None:
    rows = table()
    rows[3] = "9,24;high"
    asked = {"text": "\n".join(rows), "do": "keep", "name": "Good rows", "stack": "20", "good_only": "yes"}
    assert "from a file: 59 samples" in " ".join(sent(client, asked).split())


FILES = {
    "nothing": (b"", "nothing was chosen"),
    "NUL bytes": (b"a;b\x00c\n1;2\n" * 20, "NUL"),
    "no encoding": (b"\xff\xfe\x00\xd8" * 50, "no text"),
    "latin": "Winkel;Größe\n1;2\n".encode("latin-1") * 9,
    "an archive": HOSTILE["an archive"],
    "prose": (b"once upon a time\n" * 30, "columns with"),
    "one endless line": (b"1," * 1_000_000, "at most"),
    "too many rows": (b"1,2\n" * 250_000, "at most"),
}


@pytest.mark.parametrize("name", FILES)
def test_hostile_files_are_refused_with_what_would_be_right(client: FlaskClient, name: str) -> None:
    found = FILES[name]
    data, says = found if isinstance(found, tuple) else (found, "text file")
    page = sent(client, {}, data)
    assert says in page
    assert 'role="alert"' in page


def test_a_file_of_a_hundred_megabytes_is_refused_at_once(client: FlaskClient) -> None:
    answer = client.post(
        "/measure/file", data={"file": (io.BytesIO(b"1,2\n" * 26_000_000), "x.csv")},
        content_type="multipart/form-data",
    )  # fmt: skip
    assert answer.status_code == 413


def test_formulas_in_cells_stay_text(client: FlaskClient) -> None:
    rows = ['=HYPERLINK("http://x")|torque', *(f"{a:.1f}|{a + 1:.1f}" for a in ANGLE)]
    page = sent(client, {"text": "\n".join(rows), "do": "look"})
    assert "<th>=HYPERLINK" in page
    assert "<script" not in re.sub(r'<script type="module" src="[^"]*"></script>', "", page)


@pytest.fixture
def device(monkeypatch: pytest.MonkeyPatch) -> Iterator[DeviceServer]:
    with DeviceServer(0, SimulatedDevice(built_in_profile(), noise=0.5, hurry=10)) as server:
        threading.Thread(target=server.serve_forever, args=(0.02,), daemon=True).start()
        monkeypatch.setenv("CURVE_RANK_DEVICES", f"127.0.0.1:{server.port}")
        yield server
        server.shutdown()


def test_a_capture_is_zeroed_calibrated_swept_folded_and_kept(
    make_app: Callable[..., Flask], device: DeviceServer
) -> None:
    app = make_app(devices=f"127.0.0.1:{device.port}")
    client = app.test_client()
    address = {"device": f"127.0.0.1:{device.port}", "name": "Barn machine"}
    begun = client.post("/measure/device", data=address)
    number = int(begun.location.rpartition("/")[2])
    one = f"/measure/captures/{number}"
    capture = desk_of(app).captures.find(1, number)
    assert capture is not None
    for phase in ("empty", "weight", "sweep"):
        assert (
            client.post(f"{one}/phase", data={"phase": phase, "weight": "10", "lever": "0,3"}).status_code
            == 303
        )
        if phase != "sweep":
            assert capture.wait(10, lambda c: c.phase is None)
    capture.wait(2.2, lambda c: c.state == "ended")
    live = client.get(f"{one}/live.json?since=0").get_json()
    assert live["calibrated"]
    assert 100 < len(live["points"]) < 900
    assert client.get(f"{one}/live.json?since=999999").get_json()["points"] == []
    assert client.post(f"{one}/phase", data={"phase": "weight", "weight": "-1"}).status_code == 400
    client.post(f"{one}/stop")
    ended = client.get(one).text
    assert "samples came whole" in ended
    assert re.search(r"Friction takes\s+1\.[123] N·m", ended)
    raw = client.get(f"{one}.csv").text.splitlines()
    assert raw[0] == "phase,counter,ms,angle_deg,counts"
    assert len(raw) == len(capture.rows().ms) + 1
    kept = client.post(f"{one}/keep", data={"name": "Barn machine", "group": "flexors", "stack": "25"})
    assert kept.location == "/measure/profile/own-barn-machine"
    assert "captured live" in client.get(kept.location).text
    assert client.post(f"{one}/keep", data={"name": "Other"}).status_code == 400
    client.post(f"{one}/remove")
    assert client.get(one).status_code == 404
    assert client.get(kept.location).status_code == 200


def test_a_capture_outlives_the_server_that_listened(
    make_app: Callable[..., Flask], device: DeviceServer
) -> None:
    app = make_app(devices=f"127.0.0.1:{device.port}")
    client = app.test_client()
    begun = client.post("/measure/device", data={"device": f"127.0.0.1:{device.port}", "name": "Cut short"})
    capture = desk_of(app).captures.find(1, int(begun.location.rpartition("/")[2]))
    assert capture is not None
    for phase in ("empty", "weight"):
        client.post(f"{begun.location}/phase", data={"phase": phase, "weight": "10", "lever": "0.3"})
        assert capture.wait(10, lambda c: c.phase is None)
    client.post(f"{begun.location}/phase", data={"phase": "sweep"})
    capture.wait(2.5, lambda c: c.state == "ended")
    # Another server over the same data knows nothing of the thread, only what was handed on by then.
    other = make_app(devices=f"127.0.0.1:{device.port}").test_client()
    assert "all three are taken out" in " ".join(other.get(begun.location).text.split())
    assert other.get(f"{begun.location}/live.json").get_json()["state"] == "ended"
    assert other.post(f"{begun.location}/phase", data={"phase": "sweep"}).status_code == 400
    capture.stop()


def test_only_named_devices_are_connected_to(client: FlaskClient) -> None:
    answer = client.post("/measure/device", data={"device": "127.0.0.1:22", "name": "x"})
    assert answer.status_code == 400
    assert "127.0.0.1:8310" in answer.text
    assert "captures/" not in client.get("/measure").text


def brought(client: FlaskClient, *pictures: bytes, name: str = "Tuesday group") -> str:
    """The path of a set of pictures."""
    files = [(io.BytesIO(one), f"../{n}.svg") for n, one in enumerate(pictures)]
    answer = client.post(
        "/measure/pictures", data={"name": name, "pictures": files}, content_type="multipart/form-data"
    )
    assert answer.status_code == 303, answer.text[:500]
    return str(answer.location)


def fields(*pictures: dict[str, tuple[float, float]], **said: object) -> dict[str, object]:
    """A form of marks."""
    form: dict[str, object] = {"known_cm": KNOWN, "known_error_cm": 0} | said
    for n, marks in enumerate(pictures):
        for mark, at in marks.items():
            form |= {f"{n}-{mark}-{axis}": f"{value:.2f}" for axis, value in zip("xy", at, strict=True)}
    return form


@pytest.mark.parametrize("orientation", [1, 6, 8, 3])
def test_rendered_photographs_are_measured_back_within_two_degrees(
    client: FlaskClient, orientation: int
) -> None:
    chance = np.random.default_rng(orientation)
    for _ in range(3):
        scene = Scene(
            elbow=chance.uniform(5, 130),
            upper_arm=chance.uniform(-40, 120),
            trunk=chance.uniform(-20, 30),
            tilt=chance.uniform(-8, 8),
            per_cm=chance.uniform(3.6, 4.6),
            facing=str(chance.choice(["left", "right"])),
        )
        one = brought(client, as_jpeg(scene.image(noise=4, discs=True), orientation))
        page = client.get(one).text
        image = re.search(r'<image href="([^"]+)"', page)
        assert image
        marks = found_discs(client.get(image[1]).data, list(scene.marks))
        assert client.post(f"{one}/marks", data=fields(marks, facing=scene.facing)).status_code == 303
        document = json.loads(client.get(f"{one}/marks.json").text)
        (found,) = all_read(read_marks(validate_marks(document)))
        assert found.elbow.value == pytest.approx(scene.elbow, abs=2)
        assert found.upper_arm.value == pytest.approx(scene.upper_arm, abs=2)
        assert found.trunk is not None
        assert found.trunk.value == pytest.approx(scene.trunk, abs=2)
        assert found.lever is not None
        assert found.lever.value == pytest.approx(
            30 * np.sin(np.radians(scene.upper_arm + scene.elbow)), abs=1
        )


def test_pictures_are_laid_against_a_plan_made_into_a_variant_and_deleted_with_it(
    client: FlaskClient,
) -> None:
    scenes = [Scene(elbow=e, upper_arm=a) for e, a in ((8, 2), (70, 20), (125, 38))]
    one = brought(client, *(as_jpeg(scene.image()) for scene in scenes))
    told = client.post(
        f"{one}/marks", data=fields(*(s.marks for s in scenes)), headers={"Accept": "application/json"}
    ).get_json()
    assert "125.0°" in told["readings"]
    assert len(told["overlay"]) == 3
    page = client.get(f"{one}?plan=standing-dumbbell-curl").text
    assert "Picture 3: the elbow is 38° ± 2° forward of plan" in page
    assert re.search(r"(It costs|It gains|too close to call)", page)
    assert "Upper arm from the trunk, picture 3 of the rep" in page
    made = client.post(f"{one}/variant", data={"variant": "standing-dumbbell-curl", "name": "Tuesday curl"})
    assert made.location == "/bench/own-tuesday-curl?ghost=standing-dumbbell-curl"
    assert client.get(made.location).status_code == 200
    image = re.search(r'<image href="([^"]+)"', page)
    assert image
    client.post(f"{one}/remove", data={"all": "yes"})
    for gone in (one, image[1], "/bench/own-tuesday-curl"):
        assert client.get(gone).status_code == 404, gone


def test_pictures_can_go_and_leave_what_was_made_from_them(client: FlaskClient) -> None:
    scenes = [Scene(elbow=e) for e in (8, 120)]
    one = brought(client, *(as_jpeg(scene.image()) for scene in scenes))
    client.post(f"{one}/marks", data=fields(*(s.marks for s in scenes)))
    client.post(f"{one}/variant", data={"variant": "standing-dumbbell-curl", "name": "It stays"})
    client.post(f"{one}/remove")
    assert client.get(one).status_code == 404
    assert client.get("/bench/own-it-stays").status_code == 200


@pytest.mark.parametrize("name", HOSTILE)
def test_hostile_pictures_are_refused_whole(client: FlaskClient, name: str) -> None:
    files = [(io.BytesIO(one), "x.jpg") for one in (as_jpeg(Scene().image()), HOSTILE[name])]
    answer = client.post(
        "/measure/pictures", data={"name": "Two", "pictures": files}, content_type="multipart/form-data"
    )
    assert answer.status_code == 400
    assert "picture 2" in answer.text
    assert "Two</a>" not in client.get("/measure").text


@pytest.mark.parametrize(
    ("wrong", "says"),
    [
        ({"facing": "up"}, "facing"),
        ({"0-elbow-x": "left", "0-elbow-y": "2"}, "0-elbow"),
        ({"known_cm": "-3"}, "known_cm"),
        ({"0-scale_a-x": "1", "0-scale_a-y": "1", "0-scale_b-x": "1", "0-scale_b-y": "1"}, "lie apart"),
        ({"0-elbow-x": "1e9", "0-elbow-y": "2"}, "elbow"),
    ],
)
def test_marks_that_are_none_are_refused_and_the_kept_ones_stay(
    client: FlaskClient, wrong: dict[str, str], says: str
) -> None:
    scene = Scene()
    one = brought(client, as_jpeg(scene.image()))
    client.post(f"{one}/marks", data=fields(scene.marks))
    before = client.get(f"{one}/marks.json").text
    answer = client.post(
        f"{one}/marks", data=fields(scene.marks) | wrong, headers={"Accept": "application/json"}
    )
    assert answer.status_code == 400
    assert says in answer.get_json()["error"]
    assert client.get(f"{one}/marks.json").text == before


def test_pictures_and_captures_are_their_owners_alone(make_app: Callable[..., Flask]) -> None:
    from tests.web.test_access import COACHES, acting_as

    app = make_app()
    client = app.test_client()
    one = brought(client, as_jpeg(Scene().image()))
    image = re.search(r'<image href="([^"]+)"', client.get(one).text)
    assert image
    other = make_app()
    acting_as(other, COACHES[0])
    coach = other.test_client()
    for path in (one, image[1], f"{one}/marks.json"):
        assert coach.get(path).status_code == 404, path
    for path in (f"{one}/marks", f"{one}/remove", f"{one}/variant"):
        assert coach.post(path).status_code == 404, path
    assert client.get(one).status_code == 200
