"""With what an answer is worked out: all that the viewer has, the one modeller, and where draws come from."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import TYPE_CHECKING, Any, Self

from curve_rank.arm.body import Body
from curve_rank.arm.draws import APART
from curve_rank.arm.readings import Readings
from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.catalogue.schema import Fault, OwnFault, Variant
from curve_rank.catalogue.setups import SetupAddress, parse_setup
from curve_rank.errors import UnknownNameError
from curve_rank.rating.cautions import CautionReason, cautions_for
from curve_rank.rating.draws import fixed_draws
from curve_rank.rating.lenses import Lens, lenses
from curve_rank.rating.modelling import Modeller, VariantModel
from curve_rank.rating.targets import known
from curve_rank.store.names import is_own
from curve_rank.study.claims import Claim, built_in_claims

if TYPE_CHECKING:  # who asks for nothing of their own needs no database
    from curve_rank.practice.sets import Draw
    from curve_rank.store.database import DbSession
    from curve_rank.store.viewers import Viewer

MENDED = "one that can be read; Variants lists this one under “Cannot be read”, to be mended or removed"


@dataclass(frozen=True)
class Library:
    """What ships, and a viewer's own; the database is asked once for each kind, and only where it is needed.

    Attributes
    ----------
    db : DbSession, optional
        The open database; without one, or without a viewer, there is only what ships.
    viewer : Viewer, optional
    """

    db: DbSession | None = None
    viewer: Viewer | None = None

    def _own(self, read: str) -> Any:
        """What of the database is the viewer's, by what reads it; None where there is none."""
        if not (self.db and self.viewer):
            return None
        from curve_rank.store import documents  # brings the database with it

        return getattr(documents, read)(self.db, self.viewer)

    @cached_property
    def variants(self) -> tuple[Variant, ...]:
        """Built-in variants, and their own."""
        return built_in() + (self._own("own_variants") or ())

    @cached_property
    def lenses(self) -> dict[str, Lens]:
        """Lenses by key."""
        return lenses() | (self._own("own_lenses") or {})

    @cached_property
    def claims(self) -> dict[str, Claim]:
        """Claims by key, their own first."""
        return (self._own("own_claims") or {}) | built_in_claims()

    @cached_property
    def own_faults(self) -> tuple[OwnFault, ...]:
        """Faults that they have kept beside a variant's."""
        return tuple((self._own("own_faults") or {}).values())

    def read(self) -> Self:
        """With all of it read, so that the database may be closed."""
        _ = self.variants, self.lenses, self.claims, self.own_faults
        return self

    def of_group(self, group: str) -> tuple[Variant, ...]:
        """Variants of a group."""
        return tuple(variant for variant in self.variants if variant.group == group)

    @property
    def names(self) -> dict[str, str]:
        """Variants' names by id."""
        return {variant.id: variant.name for variant in self.variants}

    def variant(self, key: str) -> Variant:
        """One variant; the database is asked only for one's own.

        Raises
        ------
        UnknownNameError
            Where there is none of that id, or it cannot be read.
        """
        if not is_own(key):
            return find_variant(key, built_in())
        try:
            return find_variant(key, self.variants)
        except UnknownNameError as error:
            damaged = self._own("unreadable_variants") or ()
            if any(one.slug == key for one in damaged):
                raise UnknownNameError("variant", key, MENDED) from error
            raise

    def faults_of(self, variant: Variant) -> tuple[Fault, ...]:
        """A variant's faults, and their own beside it."""
        return variant.faults + tuple(one.plain for one in self.own_faults if one.variant == variant.id)

    def setup(self, address: SetupAddress) -> Variant:
        """The set-up that an address names.

        Raises
        ------
        CurveRankError
            For a variant, fault or setting that is none.
        """
        variant = self.variant(address.variant)
        return address.of(variant, self.faults_of(variant) if address.faults else None)

    def setup_in(self, line: str) -> Variant:
        """The set-up that a line names, as "chin-up~posture.trunk_pitch=10".

        Raises
        ------
        CurveRankError
            As `setup`, and for a line that names none.
        """
        return self.setup(parse_setup(line))

    def lenses_for(self, key: str) -> dict[str, Lens]:
        """Enough lenses to find one by its key: the database is asked only for one's own."""
        return self.lenses if is_own(key) or key not in lenses() else lenses()

    def lens(self, key: str) -> Lens:
        """One lens.

        Raises
        ------
        UnknownNameError
            Where there is none of that key.
        """
        return known("lens", key, self.lenses_for(key))


@dataclass(frozen=True)
class Means:
    """With what an answer is worked out for somebody.

    Attributes
    ----------
    library : Library
        All that the viewer has.
    modeller : Modeller
    draw : callable
        Finds fixed draws, or makes them; where they take long, it may raise that they are under way.
    """

    library: Library
    modeller: Modeller
    draw: Draw
    apart: Draw | None = None
    """Finds, or makes, draws in which one number alone is off; without, they are made at once."""

    @property
    def variants(self) -> tuple[Variant, ...]:
        """All variants that the viewer has."""
        return self.library.variants

    def able(self, group: str, body: Body, effort: float) -> tuple[VariantModel, ...]:
        """All of a group that can be modelled, modelled."""
        return self.modeller.able(self.library.of_group(group), body, effort=effort)

    def drawn(self, models: tuple[VariantModel, ...], body: Body, effort: float) -> tuple[Readings, ...]:
        """The fixed draws of modelled set-ups, S = (draws,)."""
        return self.draw(tuple(m.variant for m in models), body, effort)

    def draw_apart(self, variants: tuple[Variant, ...], body: Body, effort: float) -> tuple[Readings, ...]:
        """The draws of set-ups in which one number alone is off, S = (draws,)."""
        if self.apart is not None:
            return self.apart(variants, body, effort)
        return fixed_draws(variants, body, effort, self.modeller, APART)

    def cautions(self, modelled: VariantModel) -> tuple[CautionReason, ...]:
        """The cautions of a set-up, kept beside its model."""
        return self.modeller.derived(modelled, "cautions", lambda: cautions_for(modelled))
