"""What a request works with: the store, the modeller, and all variants."""

from __future__ import annotations

from typing import cast

from flask import current_app

from curve_rank.arm.body import Body
from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.catalogue.schema import Variant
from curve_rank.rating.modelling import Modelled, Modeller
from curve_rank.rating.running import Draws
from curve_rank.rating.vocabulary import Aim, Lens, aims, known, lenses, long_head
from curve_rank.store.database import Store
from curve_rank.store.lenses import is_own, own_lenses
from curve_rank.store.variants import PREFIX, own_variants


def store() -> Store:
    """The application's database."""
    return cast(Store, current_app.extensions["curve_rank_store"])


def modeller() -> Modeller:
    """The application's modeller and its cache."""
    return cast(Modeller, current_app.extensions["curve_rank_modeller"])


def draws() -> Draws:
    """The application's draws and their runs."""
    return cast(Draws, current_app.extensions["curve_rank_draws"])


def able(variants: tuple[Variant, ...], body: Body, *, effort: float) -> tuple[Modelled, ...]:
    """Those of the variants that can be modelled, modelled."""
    found = modeller().model(variants, body, effort=effort)
    return tuple(m for m in found if isinstance(m, Modelled))


def aim_for(variant: Variant, key: str | None) -> Aim:
    """The target asked for if it belongs to the variant's group, else the group's long head."""
    aim = aims().get(key or "")
    return aim if aim is not None and aim.group == variant.target else long_head(variant.target)


def all_variants() -> tuple[Variant, ...]:
    """Built-in variants and those made here."""
    with store().session() as session:
        return built_in() + own_variants(session)


def all_lenses() -> dict[str, Lens]:
    """Built-in lenses and those made here, by key."""
    with store().session() as session:
        return lenses() | own_lenses(session)


def own_lens_named(key: str) -> Lens | None:
    """A lens made here, or None when the key is not one's own.

    Raises
    ------
    UnknownNameError
    """
    if not is_own(key):
        return None
    return cast(Lens, known("lens", key, all_lenses()))


def variant_named(variant_id: str) -> Variant:
    """One variant; the database is asked only for those made here.

    Raises
    ------
    UnknownNameError
    """
    return find_variant(variant_id, all_variants() if variant_id.startswith(PREFIX) else built_in())
