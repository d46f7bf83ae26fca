"""A machine's profile: its curve, its numbers, and the variants that take it."""

from __future__ import annotations

from urllib.parse import urlencode

from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from markupsafe import Markup

from curve_rank.arm.body import Body
from curve_rank.background.captures import profile_lists
from curve_rank.catalogue.profiles import MachineProfile, has_machine, validate_profile, with_profile
from curve_rank.catalogue.schema import Variant
from curve_rank.errors import BadInputError, CurveRankError, UnavailableError
from curve_rank.exchange.tables import Table
from curve_rank.figures.profile import profile_picture
from curve_rank.figures.shapes import Picture
from curve_rank.figures.svg import svg
from curve_rank.measure.profile import Profile
from curve_rank.store import documents
from curve_rank.study.trying import try_out
from curve_rank.web import current, notices
from curve_rank.web.access import TEACHING, allowed
from curve_rank.web.files import picture_file, table_file
from curve_rank.web.forms.measuring import IntoForm, TorqueProfileForm
from curve_rank.web.problems import status_of

KIND = "profile"


def register(blueprint: Blueprint) -> None:
    """The routes."""
    for rule, name, view, methods in (
        ("/profile/<slug>", "profile", show, ["GET"]),
        ("/profile/<slug>.csv", "profile_csv", table, ["GET"]),
        ("/profile/<slug>.md", "profile_markdown", table, ["GET"]),
        ("/profile/<slug>/curve.svg", "profile_svg", picture, ["GET"]),
        ("/profile/<slug>/curve.png", "profile_png", picture, ["GET"]),
        ("/profile/<slug>/into", "profile_into", into, ["POST"]),
    ):
        blueprint.add_url_rule(rule, name, allowed(*TEACHING)(view), methods=methods)


def show(slug: str) -> ResponseReturnValue:
    """The profile."""
    return _page(slug, IntoForm())


def table(slug: str) -> ResponseReturnValue:
    """Its numbers."""
    found = _profile(slug)
    titles = ("Elbow [°]", "Moment [N·m]", "Low [N·m]", "High [N·m]")
    return table_file(Table(titles, tuple(zip(*_lists(found), strict=True))), slug)


def picture(slug: str) -> ResponseReturnValue:
    """Its curve, alone."""
    return picture_file(_drawn(_profile(slug)))


def into(slug: str) -> ResponseReturnValue:
    """Make a variant that pulls by the profile, and lay it on the bench over the one it was made from."""
    form, found = IntoForm.read(request.form), _profile(slug)
    try:
        before = current.library().variant(form.variant)
        made = with_profile(before, found.angle, found.per_kg)
        try_out(made, Body())
        with current.writing() as session:
            kept = documents.save_new(
                session, current.viewer(), "variant", made, name=form.name, made_from=before.id
            )
    except UnavailableError:
        raise
    except CurveRankError as error:
        return _page(slug, form, str(error)), status_of(error)
    notices.tell(f"“{form.name}” pulls by “{found.name}”. “{before.name}” stands behind it as a ghost.")
    ghosts = urlencode({"ghost": before.id})
    return redirect(f"{url_for('bench.show', variant_id=kept)}?{ghosts}", 303)


def keep_profile(folded: Profile, form: TorqueProfileForm, measured: str) -> str:
    """Keep a folded profile as a document; its slug.

    Raises
    ------
    BadInputError
    """
    if form.stack is None:
        raise BadInputError("stack", "nothing", "the stack it was measured with, in kg")
    lists = profile_lists(folded)
    lifts = 1.0 if form.group == "flexors" else -1.0
    friction = [lifts * value for value in lists["friction"]]
    made = validate_profile(
        lists
        | {
            "name": form.name or "profile",
            "group": form.group,
            "measured": measured,
            "stack_kg": form.stack,
            "friction": friction if any(friction) else (),
            "noise_nm": round(folded.noise, 4),
            "samples": folded.samples,
        }
    )
    with current.writing() as session:
        return documents.save_new(session, current.viewer(), KIND, made, name=form.name)


def _profile(slug: str) -> MachineProfile:
    found = documents.version(current.session(), current.viewer(), KIND, slug)
    assert isinstance(found, MachineProfile)
    return found


def _lists(found: MachineProfile) -> tuple[tuple[float, ...], ...]:
    return found.angle, found.torque, found.low, found.high


def _drawn(found: MachineProfile) -> Picture:
    return profile_picture(found, group=found.group)


def _machines(group: str) -> tuple[Variant, ...]:
    """Variants with a machine, those of the profile's own group."""
    return tuple(v for v in current.library().variants if has_machine(v) and v.group == group)


def _page(slug: str, form: IntoForm, problem: str = "") -> str:
    found = _profile(slug)
    return render_template(
        "pages/measure/profile.html",
        slug=slug,
        profile=found,
        rows=list(zip(*_lists(found), strict=True)),
        curve=Markup(svg(_drawn(found))),
        machines=_machines(found.group),
        form=form,
        problem=problem,
    )
