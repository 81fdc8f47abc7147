"""What may be attached: by size, name and first bytes."""

from __future__ import annotations

import re

from tallyman.core.faults import Fault, InputFaults

LARGEST = 20_000_000
ZIP = b"PK\x03\x04"
BEGINS: dict[str, tuple[bytes, ...]] = {
    "pdf": (b"%PDF-",),
    "png": (b"\x89PNG\r\n\x1a\n",),
    "jpg": (b"\xff\xd8\xff",),
    "jpeg": (b"\xff\xd8\xff",),
    "docx": (ZIP,),
    "xlsx": (ZIP,),
    "pptx": (ZIP,),
    "txt": (),
    "csv": (),
    "md": (),
}


def clean_name(name: str) -> str:
    """The file's own name without folders or characters that could do harm."""
    last = re.split(r"[\\/]", name)[-1]
    kept = re.sub(r"[\x00-\x1f\x7f<>:\"|?*]", "", last).strip(". ")
    return kept[-200:] or "file"


def check_upload(field: str, name: str, data: bytes) -> str:
    """The clean name of an acceptable file; raises InputFaults saying what is wrong and what goes."""
    shown = clean_name(name)
    ending = shown.rpartition(".")[2].lower() if "." in shown else ""
    if not data:
        raise InputFaults([Fault(field, shown, "the file is empty; choose another")])
    if len(data) > LARGEST:
        size = f"{len(data) / 1_000_000:.1f} MB"
        message = f"{size} is too large; at most {LARGEST // 1_000_000} MB"
        raise InputFaults([Fault(field, shown, message)])
    if ending not in BEGINS:
        kinds = ", ".join(BEGINS)
        raise InputFaults([Fault(field, shown, f"this kind cannot be attached; allowed: {kinds}")])
    begins = BEGINS[ending]
    if begins and not data.startswith(begins):
        message = f"the content is not that of a .{ending} file; save it again as one"
        raise InputFaults([Fault(field, shown, message)])
    if not begins and b"\x00" in data[:4096]:
        message = f"a .{ending} file holds plain text; this one does not"
        raise InputFaults([Fault(field, shown, message)])
    return shown
