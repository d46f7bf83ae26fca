"""Documents: histories, names, owners, undo, and what cannot be read."""

from __future__ import annotations

import json
import threading
from pathlib import Path

import pytest
from sqlalchemy import event, func, select, update
from sqlalchemy.orm import Session as DbSession

from curve_rank.catalogue.changes import changed, parse_setting
from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.errors import BadInputError, UnknownNameError
from curve_rank.rating.lenses import validate_lens
from curve_rank.store import documents, sharing
from curve_rank.store.database import Store, open_store
from curve_rank.store.demo import fill_demo
from curve_rank.store.tables import Document, DocumentVersion, Person, PersonRole
from curve_rank.store.viewers import Viewer, local_educator, viewer_of

CURL = find_variant("standing-dumbbell-curl", built_in())
LENS = validate_lens({"name": "Even", "school": "Even.", "weights": {"evenness": 1}})


def keep(session: DbSession, viewer: Viewer, name: str) -> str:
    return documents.save_new(session, viewer, "variant", CURL, name=name, made_from=CURL.id)


def another(session: DbSession, name: str = "Somebody else") -> Viewer:
    person = Person(name=name)
    session.add(person)
    session.flush()
    session.add(PersonRole(owner_id=person.id, person_id=person.id, role="educator"))
    session.flush()
    found = viewer_of(session, person.id)
    assert found is not None
    return found


def test_a_variant_keeps_its_history_and_can_go_back(session: DbSession, viewer: Viewer) -> None:
    slug = keep(session, viewer, "  My   curl ")
    (kept,) = documents.own_variants(session, viewer)
    assert (kept.id, kept.name) == (slug, "My curl")
    documents.save_version(
        session, viewer, "variant", slug, changed(kept, (parse_setting("posture.wrist=-20"),))
    )
    assert documents.own_variants(session, viewer)[0].posture.wrist == -20
    documents.restore_version(session, viewer, "variant", slug, 1)
    assert documents.own_variants(session, viewer)[0].posture.wrist == CURL.posture.wrist
    history = documents.versions(session, viewer, "variant", slug)
    assert [(v.number, v.author) for v in history] == [(n, viewer.name) for n in (1, 2, 3)]
    documents.set_removed(session, viewer, "variant", slug, removed=True)
    assert documents.own_variants(session, viewer) == ()
    documents.set_removed(session, viewer, "variant", slug, removed=False)
    assert len(documents.own_variants(session, viewer)) == 1
    with pytest.raises(UnknownNameError, match="1 to 3"):
        documents.restore_version(session, viewer, "variant", slug, 9)


@pytest.mark.parametrize("name", ["", "   ", "x" * 81])
def test_a_bad_name_stores_nothing(session: DbSession, viewer: Viewer, name: str) -> None:
    with pytest.raises(BadInputError, match="1 to 80"):
        keep(session, viewer, name)
    assert session.scalar(select(func.count(Document.id))) == 0


def test_a_name_twice_is_refused_but_not_for_another_kind_or_owner(
    session: DbSession, viewer: Viewer
) -> None:
    slug = keep(session, viewer, "Same")
    with pytest.raises(BadInputError, match="name"):
        keep(session, viewer, "same!")
    assert documents.save_new(session, viewer, "lens", LENS, name="Same") == slug
    assert keep(session, another(session), "Same") == slug


@pytest.mark.parametrize(
    ("one", "other"),
    [
        ("彎舉", "下壓"),
        ("Сгибание", "Разгибание"),
        ("Straße", "Stra e"),
        ("x " * 35 + "a", "x " * 35 + "b"),
        ("!!", "??"),
    ],
)
def test_names_that_lose_letters_or_are_long_stay_apart(
    session: DbSession, viewer: Viewer, one: str, other: str
) -> None:
    slugs = {keep(session, viewer, name) for name in (one, other)}
    assert len(slugs) == 2
    assert all(len(slug) <= 60 for slug in slugs)
    assert {v.id for v in documents.own_variants(session, viewer)} == slugs


def test_nobody_reads_or_changes_anothers_documents(session: DbSession, viewer: Viewer) -> None:
    slug, stranger = keep(session, viewer, "Mine"), another(session)
    documents.save_new(session, viewer, "lens", LENS, name="Even")
    assert documents.own_variants(session, stranger) == ()
    assert documents.own_lenses(session, stranger) == {}
    for attempt in (
        lambda: documents.versions(session, stranger, "variant", slug),
        lambda: documents.version(session, stranger, "variant", slug),
        lambda: documents.stored_text(session, stranger, "variant", slug),
        lambda: documents.save_version(session, stranger, "variant", slug, CURL),
        lambda: documents.restore_version(session, stranger, "variant", slug, 1),
        lambda: documents.repair(session, stranger, "variant", slug, "{}"),
        lambda: documents.set_removed(session, stranger, "variant", slug, removed=True),
    ):
        with pytest.raises(UnknownNameError):
            attempt()
    assert len(documents.own_variants(session, viewer)) == 1


BROKEN = ["", "not json", "[1]", '{"id": "x"}', json.dumps({"schema_version": 9}), "{" * 3000]


@pytest.mark.parametrize("text", BROKEN, ids=lambda t: t[:12])
def test_a_document_that_cannot_be_read_is_told_of_and_can_be_mended(
    session: DbSession, viewer: Viewer, text: str
) -> None:
    good, bad = keep(session, viewer, "Good"), keep(session, viewer, "Bad")
    whole = documents.stored_text(session, viewer, "variant", bad).text
    session.execute(
        update(DocumentVersion)
        .where(
            DocumentVersion.document_id == select(Document.id).where(Document.slug == bad).scalar_subquery()
        )
        .values(content=text)
    )
    assert [v.id for v in documents.own_variants(session, viewer)] == [good]
    (told,) = documents.unreadable(session, viewer, "variant")
    assert (told.slug, told.name) == (bad, "Bad")
    assert told.reason
    with pytest.raises(BadInputError):
        documents.repair(session, viewer, "variant", bad, text)
    with pytest.raises(BadInputError, match="as before"):
        documents.repair(session, viewer, "variant", bad, CURL.model_dump_json())
    assert documents.repair(session, viewer, "variant", bad, whole) == 2
    assert [v.id for v in documents.own_variants(session, viewer)] == [good, bad]


def test_a_document_without_any_version_is_told_of_too(session: DbSession, viewer: Viewer) -> None:
    session.add(Document(owner_id=viewer.person, kind="lens", slug="own-empty", name="Empty", newest=0))
    assert documents.own_lenses(session, viewer) == {}
    assert documents.unreadable(session, viewer, "lens")[0].slug == "own-empty"


def test_the_newest_are_read_in_one_query_and_validated_once(
    store: Store, viewer: Viewer, monkeypatch: pytest.MonkeyPatch
) -> None:
    with store.writing() as session:
        for n in range(4):
            slug = keep(session, viewer, f"Curl {n}")
            for _ in range(3):
                documents.save_version(
                    session, viewer, "variant", slug, documents.own_variants(session, viewer)[n]
                )
    statements: list[str] = []
    event.listen(store.engine, "before_cursor_execute", lambda *given: statements.append(given[2]))
    validated: list[str] = []
    reader = documents.READERS["variant"]

    def counted(data: object, *, name: str) -> object:
        validated.append(name)
        return reader(data, name=name)

    monkeypatch.setitem(documents.READERS, "variant", counted)
    for _ in range(3):
        with store.reading() as session:
            assert len(documents.own_variants(session, viewer)) == 4
    assert sum("SELECT" in statement for statement in statements) == 3
    assert validated == []  # each version was validated when it was kept


def test_versions_saved_at_once_are_all_kept_and_a_name_taken_at_once_is_said(tmp_path: Path) -> None:
    """Threads with sessions of their own: no lost version, no error but the project's."""
    store = open_store(tmp_path)
    with store.writing() as session:
        viewer = local_educator(session)
        assert viewer is not None
        slug = keep(session, viewer, "Shared")
    told: list[object] = []
    own_curl = CURL.model_copy(update={"id": slug})

    def save(n: int) -> None:
        try:
            with store.writing() as own:
                told.append(documents.save_version(own, viewer, "variant", slug, own_curl))
            with store.writing() as own:
                keep(own, viewer, f"Raced {n % 3}")
        except BadInputError as error:
            told.append(error)

    threads = [threading.Thread(target=save, args=(n,)) for n in range(12)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    numbers = [one for one in told if isinstance(one, int)]
    assert sorted(numbers) == list(range(2, 14))
    assert sum(isinstance(one, BadInputError) for one in told) == 9
    with store.reading() as session:
        assert len(documents.own_variants(session, viewer)) == 4
    store.engine.dispose()


def test_what_an_educator_shares_coaches_see_and_cannot_change(store: Store) -> None:
    fill_demo(store)
    with store.writing() as session:
        by_name = {row.name: row.id for row in session.query(Person)}
        educator, coach, client = (
            viewer_of(session, by_name[name]) for name in ("Maude Ellerby", "Osric Vayle", "Jory Feldspar")
        )
        assert educator
        assert coach
        assert client
        shared = documents.own_variants(session, educator)[0]
        assert documents.own_variants(session, coach) == ()
        sharing.set_shared(session, educator, "variant", shared.id, shared=True)
        assert documents.own_variants(session, coach) == (shared,)
        assert documents.own_variants(session, client) == ()
        assert not sharing.is_mine(session, coach, "variant", shared.id)
        for change in (
            lambda: documents.save_version(session, coach, "variant", shared.id, shared),
            lambda: documents.set_removed(session, coach, "variant", shared.id, removed=True),
            lambda: sharing.set_shared(session, coach, "variant", shared.id, shared=False),
        ):
            with pytest.raises(UnknownNameError):
                change()
        sharing.set_shared(session, educator, "variant", shared.id, shared=False)
        assert documents.own_variants(session, coach) == ()
