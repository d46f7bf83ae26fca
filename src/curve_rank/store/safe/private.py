"""Files and folders that only their owner can read, and files that are written whole or not at all."""

from __future__ import annotations

import os
import pwd
import secrets
from contextlib import suppress
from pathlib import Path

from curve_rank.errors import UnavailableError
from curve_rank.store.safe.troubles import of_files

FOLDER_MODE, FILE_MODE = 0o700, 0o600
OURS = ("curve-rank", "secret-key", "backups", "outbox")
"""How the names of all that the application keeps in its folder begin."""


def give_to_owner(path: Path, folder: Path | None = None) -> Path:
    """Give what root has made, and all in it, to whoever owns the folder that it is for; the path again.

    An administrator's command must not leave files that whoever serves the folder cannot open.
    """
    like = (folder or path.parent).stat()
    if os.geteuid() == 0 and like.st_uid != 0:
        for one in (path, *(path.rglob("*") if path.is_dir() else ())):
            with suppress(FileNotFoundError):  # what others make at the same time may be gone already
                os.chown(one, like.st_uid, like.st_gid, follow_symlinks=False)
    return path


def check_owner_of(folder: Path) -> None:
    """Only the owner of a folder, or root, who gives what is made to the owner, goes on.

    Raises
    ------
    UnavailableError
        Naming the owner.
    """
    if not folder.exists() or os.geteuid() in (0, folder.stat().st_uid):
        return
    number = folder.stat().st_uid
    try:
        name = pwd.getpwuid(number).pw_name
    except KeyError:
        name = f"the user with number {number}"
    raise UnavailableError("data folder", str(folder), f"this done as {name}, who owns it, or as root")


def private_folder(folder: Path) -> Path:
    """The folder, made where it is not there yet; closed to everyone else if nothing else stands in it.

    Raises
    ------
    UnavailableError
    """
    with of_files("data", folder, "a folder that this user may write to"):
        if not folder.exists():
            folder.mkdir(mode=FOLDER_MODE, parents=True, exist_ok=True)
            give_to_owner(folder)
        if folder.stat().st_uid == os.geteuid() and all(f.name.startswith(OURS) for f in folder.iterdir()):
            folder.chmod(FOLDER_MODE)
        if not os.access(folder, os.W_OK | os.X_OK):
            raise PermissionError(13, "may not write here")
    return folder


def private_file(path: Path) -> Path:
    """The file, made empty where it is not there yet, closed to everyone else.

    Raises
    ------
    UnavailableError
    """
    with of_files("data", path, "a file that this user may write to"):
        if not path.exists():
            os.close(os.open(path, os.O_RDWR | os.O_CREAT, FILE_MODE))
            give_to_owner(path)
        os.close(os.open(path, os.O_RDWR))
        if path.stat().st_uid == os.geteuid():
            path.chmod(FILE_MODE)
    return path


def whole_file(path: Path, content: bytes) -> bytes:
    """What stands in a file; where there is none, it is made with this content, whole or not at all.

    Two who make it at once end up with the same content.

    Raises
    ------
    UnavailableError
    """
    with of_files("data", path, "a file that this user may read and write"):
        if not path.exists():
            partial = path.with_name(f"{path.name}.{os.getpid()}.{secrets.token_hex(4)}.part")
            try:
                with os.fdopen(
                    os.open(partial, os.O_WRONLY | os.O_CREAT | os.O_EXCL, FILE_MODE), "wb"
                ) as out:
                    out.write(content)
                    out.flush()
                    os.fsync(out.fileno())
                give_to_owner(partial)
                with suppress(FileExistsError):  # someone else has been quicker
                    os.link(partial, path)
            finally:
                partial.unlink(missing_ok=True)
        return path.read_bytes()
