"""Logs in the store: devices that cut off, repeat and reorder; corrections, conflicts, and who sees what."""

from __future__ import annotations

import random
from datetime import date, timedelta

import pytest
from sqlalchemy import func, select

from curve_rank.errors import BadInputError, UnknownNameError
from curve_rank.store import inbox, logs, outlines, plans
from curve_rank.store.database import Store
from curve_rank.store.tables import SetRow
from curve_rank.training.log import Message
from tests.store.conftest import somebody

TAMSIN, OSRIC, WREN = "Tamsin Brackwater", "Osric Vayle", "Wren Achterberg"
DAY = date(2026, 3, 2)


def message(key: str, *, device: str = "phone", written: int = 1, seen: int = 0, **told: object) -> Message:
    one = {"key": key, "day": DAY, "variant": "chin-up", "load_kg": 0, "reps": 8} | told
    removed = bool(one.pop("removed", False))
    return Message.model_validate(
        {"device": device, "written": written, "seen": seen, "removed": removed, "set": one}
    )


class Phone:
    """A queue as the browser keeps it: sends what waits, forgets what was acknowledged, corrects."""

    def __init__(self, name: str, rng: random.Random, count: int) -> None:
        self.name, self.rng, self.clock = name, rng, 0
        self.waiting: dict[str, Message] = {}
        self.final: dict[str, int] = {}
        self.versions: dict[str, int] = {}
        self.to_do = [f"{name}-set-{n:05d}" for n in range(count)]

    def write(self) -> None:
        key = self.to_do.pop() if self.to_do else self.rng.choice(list(self.final))
        self.clock += 1
        self.final[key] = self.rng.randrange(1, 150)
        self.waiting[key] = message(
            key, device=self.name, written=self.clock, seen=self.versions.get(key, 0), reps=self.final[key]
        )

    def heard(self, sent: list[Message], receipts: tuple[inbox.Receipt, ...]) -> None:
        for one, receipt in zip(sent, receipts, strict=True):
            self.versions[receipt.key] = receipt.version
            if self.waiting.get(receipt.key) is one:  # corrected meanwhile: that still has to go
                del self.waiting[receipt.key]


def test_a_thousand_sets_of_five_devices_arrive_once_through_cuts_repeats_and_reorderings(  # noqa: C901
    demo: Store,
) -> None:
    rng = random.Random(11)
    phones = [Phone(f"phone{n}", rng, 200) for n in range(5)]
    on_the_way: list[tuple[Phone, list[Message]]] = []
    acknowledged: set[str] = set()
    while any(phone.to_do or phone.waiting for phone in phones):
        phone = rng.choice(phones)
        if phone.to_do and rng.random() < 0.7:
            for _ in range(rng.randrange(1, 12)):
                if phone.to_do or rng.random() < 0.1:
                    phone.write()
        some = list(phone.waiting.values())
        rng.shuffle(some)
        if some:
            on_the_way.append((phone, some[: rng.randrange(1, 40)]))
        if rng.random() < 0.6:
            sender, sent = on_the_way.pop(rng.randrange(len(on_the_way))) if on_the_way else (phone, [])
            if not sent:
                continue
            with demo.writing() as session:
                wren = somebody(session, WREN)
                receipts = inbox.take(session, wren, wren.person, sent)
            if rng.random() < 0.5:  # the answer arrives; else it is cut off and all is sent again
                sender.heard(sent, receipts)
                acknowledged |= {one.key for one in receipts}
            elif rng.random() < 0.5:
                on_the_way.append((sender, sent))
    for _, sent in on_the_way:  # what was still on its way comes late
        with demo.writing() as session:
            wren = somebody(session, WREN)
            inbox.take(session, wren, wren.person, sent)
    with demo.reading() as session:
        wren = somebody(session, WREN)
        kept = {
            one.set.key: one.set.reps
            for one in logs.kept_sets(session, wren, wren.person, since=DAY)
            if "-set-" in one.set.key
        }
        count = session.scalar(select(func.count(SetRow.id)).where(SetRow.key.like("%-set-%")))
        waits = logs.unsettled(session, wren, wren.person)
    assert kept == {key: reps for phone in phones for key, reps in phone.final.items()}
    assert acknowledged <= set(kept)
    assert count == len(kept) == 1000
    assert waits == ()


def test_two_devices_that_correct_one_set_are_both_kept_and_somebody_chooses(demo: Store) -> None:
    with demo.writing() as session:
        wren = somebody(session, WREN)

        def take(one: Message) -> inbox.Receipt:
            return inbox.take(session, wren, wren.person, [one])[0]

        assert take(message("set-a-000001")).state == "kept"
        assert take(message("set-a-000001", written=2, seen=1, reps=9)).version == 2
        late = take(message("set-a-000001", device="tablet", written=5, seen=1, reps=12))
        assert (late.state, late.version) == ("aside", 2)
        assert take(message("set-a-000001", device="tablet", written=5, seen=1, reps=12)).state == "known"
        ((kept, other),) = logs.unsettled(session, wren, wren.person)
        assert (kept.set.reps, other.set.reps, other.device) == (9, 12, "tablet")
        inbox.settle(session, wren, wren.person, "set-a-000001", other.number, take_it=True)
        kept, versions = logs.history(session, wren, wren.person, "set-a-000001")
        assert kept.set.reps == 12
        assert [one.set.reps for one in versions] == [9, 12, 8]
        assert logs.unsettled(session, wren, wren.person) == ()
        with pytest.raises(UnknownNameError):
            inbox.settle(session, wren, wren.person, "set-a-000001", 99, take_it=False)
        gone = take(
            message("set-a-000001", device="tablet", written=9, seen=kept.version, reps=12, removed=True)
        )
        assert gone.state == "changed"
        assert "set-a-000001" not in {one.key for one in logs.log_of(session, wren, wren.person)}
        back = take(message("set-a-000001", device="tablet", written=10, seen=gone.version, reps=12))
        assert back.version == gone.version + 1


def test_one_set_is_one_set_however_many_phones_and_pages_write_it(demo: Store) -> None:
    """Of one place in one session, under keys of their own: what differs is asked once."""
    with demo.writing() as session:
        wren = somebody(session, WREN)
        plan = plans.handed_to(session, wren)[0].id
        at = {"plan": plan, "week": 39, "session": 1, "place": 0, "set": 1}

        def take(key: str, **told: object) -> inbox.Receipt:
            return inbox.take(session, wren, wren.person, [message(key, **(at | told))])[0]

        def there() -> list[tuple[str, int]]:
            found = logs.log_of(session, wren, wren.person)
            return [(one.key, one.reps) for one in found if (one.week, one.session) == (39, 1)]

        assert take("phone-a-0001").state == "kept"
        assert take("other-tab-01", written=2).state == "known"  # the same words: nothing to ask
        assert take("tablet-b-001", device="tablet", reps=10).state == "aside"
        assert (
            take("tablet-b-001", device="tablet", reps=10).state == "aside"
        )  # sent again: still one question
        assert take("other-tab-02", written=3, reps=6).state == "aside"  # a second tab is the same device
        assert there() == [("phone-a-0001", 8)]
        waiting = logs.unsettled(session, wren, wren.person)
        assert [other.set.reps for _, other in waiting] == [10, 6]
        assert take("tablet-b-001", device="tablet", written=2, removed=True).state == "known"
        inbox.settle(session, wren, wren.person, "phone-a-0001", waiting[0][1].number, take_it=True)
        assert there() == [("tablet-b-001", 10)]
        late = take("phone-a-0001", written=9, seen=2, reps=7)  # corrects what stands now, having seen it
        assert (late.state, there()) == ("changed", [("phone-a-0001", 7)])
        assert take("phone-a-0002", set=2).state == "kept"
        assert take("phone-a-0003", side="left").state == "kept"


def test_a_file_keeps_no_set_that_was_written_down_here_already(demo: Store) -> None:
    with demo.writing() as session:
        wren = somebody(session, WREN)
        one = message("phone-a-0001").set
        assert one
        inbox.take(session, wren, wren.person, [message("phone-a-0001")])
        again = one.model_copy(update={"key": "csv-000000001", "note": "from a file"})
        other = again.model_copy(update={"key": "csv-000000002", "set": 2})
        assert logs.add_sets(session, wren, wren.person, [again, other], "file") == 1
        assert logs.add_sets(session, wren, wren.person, [again, other], "file") == 0


def test_whoever_may_not_see_a_person_neither_reads_nor_writes_their_log(demo: Store) -> None:
    with demo.writing() as session:
        wren, coach, other = (somebody(session, name) for name in (WREN, TAMSIN, OSRIC))
        for viewer in (other,):
            with pytest.raises(UnknownNameError):
                inbox.take(session, viewer, wren.person, [message("set-b-000001")])
            with pytest.raises(UnknownNameError):
                logs.log_of(session, viewer, wren.person)
            with pytest.raises(UnknownNameError):
                logs.history(session, viewer, wren.person, "set-b-000001")
        assert (
            inbox.take(session, coach, wren.person, [message("set-b-000001", plan=99999, week=0)])[0].state
            == "kept"
        )
        (one,) = (one for one in logs.log_of(session, wren, wren.person) if one.key == "set-b-000001")
        assert one.plan is None, "a block that is not theirs is left out, and the set is kept"
        with pytest.raises(BadInputError):
            inbox.take(session, wren, wren.person, [message(f"set-c-{n:06d}") for n in range(201)])


def test_a_log_says_how_often_it_changed(demo: Store) -> None:
    with demo.writing() as session:
        wren = somebody(session, WREN)
        before = logs.training_state(session, wren.person).revision
        inbox.take(session, wren, wren.person, [message("set-d-000001"), message("set-d-000002")])
        inbox.take(session, wren, wren.person, [message("set-d-000001")])
        session.expire_all()
        assert logs.training_state(session, wren.person).revision == before + 1
        note = {"key": "note-d-0001", "kind": "move", "day": DAY, "to_day": DAY + timedelta(days=1)}
        told = Message.model_validate({"device": "phone", "written": 3, "note": note})
        states = [inbox.take(session, wren, wren.person, [told])[0].state for _ in range(2)]
        assert states == ["kept", "known"]


def test_what_a_device_sends_is_kept_known_changed_or_refused_each_alone(demo: Store) -> None:
    with demo.writing() as session:
        wren = somebody(session, WREN)

        def take(*several: Message) -> list[tuple[str, int]]:
            return [(one.state, one.version) for one in inbox.take(session, wren, wren.person, several)]

        key = "set-b-000001"
        assert take(message(key, written=5)) == [("kept", 1)]
        assert take(message(key, written=5)) == [("known", 1)]
        assert take(message(key, written=9)) == [("known", 1)]  # nothing is another
        assert take(message(key, written=4, reps=3)) == [("known", 1)]  # overtaken by what it told before
        assert take(message(key, written=6, reps=3)) == [("changed", 2)]
        # Another device that saw the newest state goes on from there; one that did not is put aside.
        assert take(message(key, device="tablet", written=1, seen=2, reps=4)) == [("changed", 3)]
        assert take(message(key, device="watch", written=1, seen=2, reps=5)) == [("aside", 3)]
        # Of several the one that cannot be kept is refused alone.
        for n in range(4, inbox.MOST_VERSIONS + 1):
            assert take(message(key, device="tablet", written=n, reps=100 + n))[0][0] == "changed"
        states = take(
            message("set-b-000002"),
            message(key, device="tablet", written=999, reps=1),
            message("set-b-000003"),
        )
        assert [state for state, _ in states] == ["kept", "refused", "kept"]
        kept, _ = logs.history(session, wren, wren.person, key)
        assert kept.set.reps == 100 + inbox.MOST_VERSIONS
        with pytest.raises(BadInputError, match="at most 200"):
            take(*(message(f"set-c-{n:06d}") for n in range(inbox.MOST_AT_ONCE + 1)))
        assert len(take(*(message(f"set-c-{n:06d}") for n in range(inbox.MOST_AT_ONCE)))) == 200


def test_a_set_of_a_block_that_is_not_theirs_is_kept_without_it(demo: Store) -> None:
    with demo.writing() as session:
        wren = somebody(session, WREN)
        mine = outlines.outlines(session, [wren.person])[wren.person].plan
        place = {"week": 1, "session": 0, "place": 2}
        for key, plan, kept in (("set-d-000001", mine, (mine, 1, 0, 2)), ("set-d-000002", 999, (None,) * 4)):
            inbox.take(session, wren, wren.person, [message(key, plan=plan, **place)])
            one = logs.history(session, wren, wren.person, key)[0].set
            assert (one.plan, one.week, one.session, one.place) == kept


def test_sessions_of_the_last_days_that_nobody_spoke_of_are_missed() -> None:
    start = date(2026, 3, 2)
    outline = outlines.BlockOutline(7, "Seven", start, ((0, 3), (0, 3)))  # Mondays and Thursdays of two weeks
    at = [outline.under_way(start + timedelta(days=n)) for n in (-1, 0, 13, 14)]
    assert at == [False, True, True, False]
    day = start + timedelta(days=10)  # the second Thursday: today's own session is not missed yet
    assert outline.missed(set(), day, 14) == 3
    assert outline.missed({(7, 0, 1), (8, 0, 0)}, day, 14) == 2  # another block's does not count
    assert outline.missed(set(), day, 7) == 2  # Thursday a week ago, and Monday
    assert outline.missed(set(), day + timedelta(days=1), 14) == 4


def test_done_is_what_was_logged_said_or_moved_since(demo: Store) -> None:
    with demo.writing() as session:
        wren = somebody(session, WREN)
        plan = outlines.outlines(session, [wren.person])[wren.person].plan
        since = date(2030, 1, 1)
        before = outlines.done_since(session, [wren.person], since).get(wren.person, set())
        told = {"plan": plan, "week": 3, "session": 2, "place": 0}
        inbox.take(session, wren, wren.person, [message("set-e-000001", day=since, **told)])
        old = told | {"week": 2, "session": 2}
        inbox.take(
            session, wren, wren.person, [message("set-e-000002", day=since - timedelta(days=1), **old)]
        )
        now = outlines.done_since(session, [wren.person], since)[wren.person]
        assert now - before == {(plan, 3, 2)}
        inbox.take(
            session, wren, wren.person,
            [message("set-e-000001", day=since, written=2, seen=1, removed=True, **told)],
        )  # fmt: skip
        assert outlines.done_since(session, [wren.person], since).get(wren.person, set()) == before
