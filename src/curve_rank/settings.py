"""Every setting that comes from the environment: typed, checked once, handed in wherever it is needed."""

from __future__ import annotations

import os
from pathlib import Path
from typing import Literal

from dotenv import dotenv_values
from pydantic import Field, ValidationError
from pydantic_settings import BaseSettings, SettingsConfigDict

from curve_rank.errors import BadInputError
from curve_rank.validation import from_validation

PREFIX = "CURVE_RANK_"
DATABASE = "curve-rank.sqlite3"
"""The file of the database, in the data folder."""
INSTALLATION = Path("/etc/curve-rank.env")
"""Where the settings of what is installed on this machine stand, as its documents have it."""
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
    proxies : int
        How many proxies of one's own every request comes through: so many of what `X-Forwarded-` headers say
        is believed, none for 0.
    threads : int
        Pages that are worked on at once; what takes a moment alone, as a logged set, has threads of its own.
    requests_a_minute : int
        Of one person, or of one address where nobody is signed in; 0 for no limit.
    unit : str
        In which masses are read by whoever has not chosen: "kg" or "lb".
    log : str
        One line a request on standard error: "json", "text" or "off".
    stop_seconds : int
        How long requests that are under way may take when it is asked to stop [s].
    backups : Path, optional
        Folder of backups, where it is not the data folder's; better on another disk.
    backup_hours : int
        A backup so often [h]; 0 for never.
    keep_days, keep_weeks, keep_months : int
        Of so many days, weeks and months the newest backup is kept.
    """

    model_config = SettingsConfigDict(env_prefix=PREFIX, frozen=True, env_ignore_empty=True, extra="ignore")

    data: Path = Field(default_factory=_own_folder)
    draws: Path | None = None
    https: bool = False
    scheduler: str = ""
    patterns: bool = False
    local_viewer: bool = False
    hosts: str = ""
    devices: str = "127.0.0.1:8310"
    proxies: int = Field(default=0, ge=0, le=5)
    threads: int = Field(default=2, ge=1, le=32)
    requests_a_minute: int = Field(default=1500, ge=0)
    unit: Literal["kg", "lb"] = "kg"
    log: Literal["json", "text", "off"] = "json"
    stop_seconds: int = Field(default=20, ge=1, le=300)
    backups: Path | None = None
    backup_hours: int = Field(default=24, ge=0, le=24 * 31)
    keep_days: int = Field(default=7, ge=1, le=366)
    keep_weeks: int = Field(default=5, ge=0, le=520)
    keep_months: int = Field(default=12, ge=0, le=240)

    @property
    def device_addresses(self) -> tuple[str, ...]:
        """Every device that pages may connect to."""
        return tuple(one.strip() for one in self.devices.split(",") if one.strip())

    @property
    def shelf(self) -> Path:
        """The folder that draws are kept in."""
        return self.draws or self.data

    @property
    def backup_folder(self) -> Path:
        """The folder that backups are made in."""
        return self.backups or self.data / "backups"

    @property
    def trusted_hosts(self) -> tuple[str, ...]:
        """Every name under which it may be asked, the loopback's first."""
        more = (name.strip().lower().strip("[]") for name in self.hosts.split(","))
        return tuple(dict.fromkeys((*LOOPBACK, *(name for name in more if name))))

    @property
    def right_host(self) -> str:
        """Under which names it may be asked, in words."""
        return f"one of {', '.join(self.trusted_hosts)}; the setting CURVE_RANK_HOSTS adds more"

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


def installed_settings(*, data: Path | None = None) -> Settings:
    """The settings of what is installed here, for those who look after it.

    A folder given here wins over the environment's; where neither names one, the file `INSTALLATION` holds,
    if there is one.

    Raises
    ------
    BadInputError
    """
    if not _by_file(data):
        return read_settings(data=data)
    try:
        return Settings(_env_file=INSTALLATION)
    except ValidationError as error:
        field = str(error.errors()[0]["loc"][0]).upper()
        raise from_validation(error, PREFIX + field, Settings, passed_over=(field.lower(), field)) from error
    except OSError as error:
        right = "a file that you may read: do this as root, or as whom the application runs"
        raise BadInputError("settings", str(INSTALLATION), right) from error


def unknown_names(data: Path | None = None) -> tuple[str, ...]:
    """Variables of the environment, or of the installation's file, that look like settings and are none."""
    known = {PREFIX + name.upper() for name in Settings.model_fields}
    said = [*os.environ, *(dotenv_values(INSTALLATION) if _by_file(data) else ())]
    return tuple(sorted({name for name in said if name.startswith(PREFIX) and name not in known}))


def _by_file(data: Path | None) -> bool:
    return data is None and PREFIX + "DATA" not in os.environ and os.access(INSTALLATION, os.F_OK)
