"""Units for the machine's own service manager: serve after a start of the machine, back up every night."""

from __future__ import annotations

from pathlib import Path

from ember_launcher.console import Refusal, say
from ember_launcher.places import ROOT, Instance

UNITS = Path("/etc/systemd/system")
NAME = "ember-thread"
# Nightly backups that are kept: two weeks of nights.
KEPT = 14

_SERVE = """[Unit]
Description=Ember Thread
After=network.target

[Service]
Type=oneshot
RemainAfterExit=yes
WorkingDirectory={root}
ExecStart={ember} start --var {var} --port {port}
ExecStop={ember} stop --var {var}
TimeoutStartSec=900

[Install]
WantedBy=multi-user.target
"""
_BACK_UP = """[Unit]
Description=Backup of Ember Thread

[Service]
Type=oneshot
WorkingDirectory={root}
ExecStart={ember} backup {backups} --nightly --keep {kept} --var {var}
"""
_TIMER = """[Unit]
Description=Nightly backup of Ember Thread

[Timer]
OnCalendar=*-*-* 02:30:00
Persistent=true

[Install]
WantedBy=timers.target
"""


def units(instance: Instance, port: int, backups: Path) -> dict[str, str]:
    """Every unit by its file name."""
    given = {
        "root": _quoted(ROOT),
        "ember": _quoted(ROOT / "ember"),
        "var": _quoted(instance.var),
        "backups": _quoted(backups),
        "port": port,
        "kept": KEPT,
    }
    return {
        f"{NAME}.service": _SERVE.format(**given),
        f"{NAME}-backup.service": _BACK_UP.format(**given),
        f"{NAME}-backup.timer": _TIMER,
    }


def _quoted(path: Path) -> str:
    """As the service manager reads a word: spaces and per cent signs are nothing special in it."""
    return str(path).replace("%", "%%").replace("\\", "\\\\").replace(" ", "\\x20")


def install(instance: Instance, port: int, backups: Path, into: Path) -> None:
    """Write the units; what switches them on is told, not done."""
    if not backups.is_absolute():
        raise Refusal(f"name the folder of the backups from the root on, not {backups}")
    if backups == instance.var or instance.var in backups.parents:
        raise Refusal("backups belong on another disk, not into the folder that they are of")
    try:
        for name, text in units(instance, port, backups).items():
            (into / name).write_text(text)
    except OSError as error:
        raise Refusal(f"cannot write to {into} ({error.strerror}); run this as root") from error
    say(f"wrote {', '.join(units(instance, port, backups))} to {into}")
    print("Switch them on with:")
    print(f"    systemctl daemon-reload && systemctl enable --now {NAME}.service {NAME}-backup.timer")
