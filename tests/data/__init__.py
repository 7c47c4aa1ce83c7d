"""Files written by the first version of the program, for tests that later ones still read them."""

from pathlib import Path

DATA = Path(__file__).parent
