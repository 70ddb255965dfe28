"""Makes the tables of English words of `core.words` from the lexical database of Debian's package wordnet-base. Run once: they are shipped.

    python tools/word_types.py [FOLDER_OF_THE_DATABASE]

`wide.txt.gz`: lines "letters<TAB>words", what words can be (see `core.words.grammar.tags`; D: an adverb), likeliest first.
`kin.txt.gz`: lines "word<TAB>words", for nouns: synonyms, then parents and grandparents of the same kind, as far as `types.txt` has them.
"""

from __future__ import annotations

import gzip
import re
import sys
from collections import defaultdict
from pathlib import Path

TABLES = Path(__file__).parent.parent / "src/mosskeeper/core/words/tables"
_WORD = re.compile(r"[a-z]+(?:['_-][a-z]+){0,2}")
_OF_FILE = {18: "P", 8: "B", 5: "A", 15: "L", 13: "O", 20: "O", 27: "M", 17: "L", 28: "S", 19: "S", 6: "O"}  # the database's files of nouns
_UNDER = {  # what stands under these synsets: (word, file) → letter
    **dict.fromkeys([(w, 6) for w in ("clothing", "headdress", "footwear", "jewelry", "armor_plate", "spectacles")], "G"),
    **dict.fromkeys([("structure", 6), ("way", 6), ("room", 6), ("geological_formation", 17)], "L"),
    ("door", 6): "O",
    ("fence", 6): "O",
    ("fabric", 6): "M",
    **dict.fromkeys([("hair", 8), ("hairdo", 8), ("facial_expression", 10)], "B"),
    ("color", 7): "C",
    ("animal", 5): "A",
    **dict.fromkeys([("weather", 19), ("light", 19), ("precipitation", 19), ("time_of_day", 28), ("season", 28), ("picture", 6)], "S"),
}
_PHYSICAL = "PGOALB"
_SENSES = 3  # of a noun that are looked at


class Database:
    """Nouns and what they are kinds of."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self.above: dict[str, list[str]] = {}
        self.file: dict[str, int] = {}
        self.names: dict[str, list[str]] = {}
        for line in (folder / "data.noun").read_text("latin-1").splitlines():
            if line.startswith("  "):
                continue
            head = line.partition(" | ")[0]
            fields = head.split()
            synset = fields[0]
            self.names[synset] = [fields[4 + 2 * i] for i in range(int(fields[3], 16))]
            self.file[synset] = int(fields[1])
            self.above[synset] = re.findall(r"@i? (\d{8}) n", head)

    def index(self, part: str) -> list[list[str]]:
        """Lines of an index, as fields; names of single persons and places are left out."""
        lines = (self.folder / f"index.{part}").read_text("latin-1").splitlines()
        fields = [line.split() for line in lines if not line.startswith("  ")]
        return [f for f in fields if _WORD.fullmatch(f[0]) and len(f[0]) > 2]

    def senses(self, fields: list[str]) -> list[str]:
        return [synset for synset in fields[-int(fields[2]) :] if fields[0] in self.names[synset]][:_SENSES]

    def letter(self, synset: str) -> str:
        """What a noun of this sense is."""
        seen, queue = set(), [synset]
        while queue:
            one = queue.pop(0)
            for (name, file), letter in _UNDER.items():
                if self.file[one] == file and name in self.names[one]:
                    return letter
            if one not in seen:
                seen.add(one)
                queue += self.above[one]
        return _OF_FILE.get(self.file[synset], "N")


def types(database: Database) -> dict[str, str]:
    """Word → letters, the likeliest first."""
    table: dict[str, str] = defaultdict(str)
    for part, kind in (("noun", ""), ("verb", "V"), ("adj", "Q"), ("adv", "D")):
        for fields in database.index(part):
            word = fields[0].replace("_", " ")
            if kind:
                table[word] += kind if " " not in word else ""
                continue
            letters = [database.letter(sense) for sense in database.senses(fields)] or [""]
            best = letters[0] if letters[0] != "N" else next((x for x in letters if x != "N"), "N")
            table[word] += best if " " not in word or best in _PHYSICAL else ""
    return {word: letters for word, letters in table.items() if letters}


def kin(database: Database, known: set[str]) -> dict[str, list[str]]:
    """Noun → those of `known` that mean the same, or what it is a kind of."""
    out = {}
    for fields in database.index("noun"):
        senses = database.senses(fields)[:1]
        letter = database.letter(senses[0]) if senses else "N"
        if letter == "N":
            continue
        found: list[str] = []
        level = senses
        for _ in range(3):
            found += [n.replace("_", " ").lower() for s in level if database.letter(s) == letter for n in database.names[s]]
            level = [a for s in level for a in database.above[s]]
        word = fields[0].replace("_", " ")
        near = [name for name in dict.fromkeys(found) if name in known and name != word]
        if near:
            out[word] = near
    return out


def _write(name: str, lines: list[str]) -> None:
    (TABLES / name).write_bytes(gzip.compress("".join(f"{line}\n" for line in lines).encode(), 9, mtime=0))
    print(name, len(lines), "lines", (TABLES / name).stat().st_size, "bytes")


def main() -> None:
    database = Database(Path(sys.argv[1]) if len(sys.argv) > 1 else Path("/usr/share/wordnet"))
    table = types(database)
    rows: dict[str, list[str]] = defaultdict(list)
    for word, letters in sorted(table.items()):
        rows[letters].append(word)
    _write("wide.txt.gz", [f"{letters}\t{'|'.join(words)}" for letters, words in sorted(rows.items())])
    by_hand = {w.replace("_", " ") for line in (TABLES / "types.txt").read_text().splitlines() if line[:1] == " " for w in line.split()}
    _write("kin.txt.gz", [f"{word}\t{'|'.join(near)}" for word, near in sorted(kin(database, by_hand).items())])


if __name__ == "__main__":
    main()
