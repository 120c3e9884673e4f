"""`./ember`: what computes is handed over at once; what else there is is brought in only where it was asked for."""

from __future__ import annotations

import sys

from ember_launcher import computing
from ember_launcher.console import Refusal


def main(words: list[str]) -> int:
    """Run one command; a refusal is one clear message and status 1."""
    try:
        # Not argparse's: it would take a leading option for one of its own.
        if words and words[0] in computing.COMMANDS:
            return computing.hand_over(words)
        from ember_launcher import commands

        return commands.run(commands.arguments())
    except Refusal as refusal:
        print(f"ember: {refusal}", file=sys.stderr)
        return 1
    except KeyboardInterrupt:
        print("ember: stopped by you", file=sys.stderr)
        return 130


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
