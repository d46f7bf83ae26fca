"""Every setting that comes from the environment: typed, checked once, handed in wherever it is needed."""

from __future__ import annotations

from pathlib import Path

from pydantic import Field, ValidationError
from pydantic_settings import BaseSettings, SettingsConfigDict

from curve_rank.validation import from_validation

PREFIX = "CURVE_RANK_"
LOOPBACK = ("localhost", "127.0.0.1", "::1")


def _own_folder() -> Path:
    """The user's data folder, by the desktop's convention."""
    base = _Desktop().xdg_data_home or Path.home() / ".local" / "share"
    return base / "curve-rank"


class _Desktop(BaseSettings):
    xdg_data_home: Path | None = None


class Settings(BaseSettings):
    """What the environment says; each is a variable named CURVE_RANK_ and the field in capitals.

    Attributes
    ----------
    data : Path
        Folder of database and signing key.
    draws : Path, optional
        Folder of draws that are kept between one run and the next, where it is not the data folder.
    https : bool
        Cookies travel over https only: a proxy serves it so.
    scheduler : str
        Address of a Dask scheduler; empty for all cores of this machine.
    patterns : bool
        Serve the page of all components.
    local_viewer : bool
        Whoever comes and has not signed in is this machine's educator: for one person alone, and the demo.
    hosts : str
        Names, with commas between, under which it may be asked beside this machine's own.
    devices : str
        Addresses, with commas between, of the measuring devices that pages may connect to.
    """

    model_config = SettingsConfigDict(env_prefix=PREFIX, frozen=True, env_ignore_empty=True)

    data: Path = Field(default_factory=_own_folder)
    draws: Path | None = None
    https: bool = False
    scheduler: str = ""
    patterns: bool = False
    local_viewer: bool = False
    hosts: str = ""
    devices: str = "127.0.0.1:8310"

    @property
    def device_addresses(self) -> tuple[str, ...]:
        """Every device that pages may connect to."""
        return tuple(one.strip() for one in self.devices.split(",") if one.strip())

    @property
    def shelf(self) -> Path:
        """The folder that draws are kept in."""
        return self.draws or self.data

    @property
    def trusted_hosts(self) -> tuple[str, ...]:
        """Every name under which it may be asked, the loopback's first."""
        more = (name.strip().lower().strip("[]") for name in self.hosts.split(","))
        return tuple(dict.fromkeys((*LOOPBACK, *(name for name in more if name))))

    @property
    def open_to_others(self) -> bool:
        """Whether others than this machine may ask, and nobody has to sign in."""
        return self.local_viewer and self.trusted_hosts != LOOPBACK

    def at_home(self) -> Settings:
        """The same, where whoever has not signed in is the first educator."""
        return self.model_copy(update={"local_viewer": True})

    def bound_to(self, host: str) -> Settings:
        """The same, served at an address of this machine."""
        return self.model_copy(update={"hosts": f"{self.hosts},{host}"})


def read_settings(*, data: Path | None = None) -> Settings:
    """The settings of this process; a folder given here wins over the environment's.

    Raises
    ------
    BadInputError
        Naming the variable, its value and what would be right.
    """
    try:
        return Settings() if data is None else Settings(data=data)
    except ValidationError as error:
        field = str(error.errors()[0]["loc"][0]).upper()
        raise from_validation(error, PREFIX + field, Settings, passed_over=(field.lower(), field)) from error
