"""Callouts as people say them, family by family, with what they mean: how many are read right.

A row: text ; kind ; count ; parts as name=exact value (mm or degrees), name:designation, or name alone for one of any value.

They were written before the rules that read them. Every third of a family is kept aside: no rule was written for it, and
the share of those that is read right is the figure that counts (`./canonis bench callouts`).
"""

import re
from fractions import Fraction
from typing import Any

from canonis.bench.spoken import spoken_callouts
from canonis.core.callout import HouseRules
from canonis.core.quantity import Unit
from canonis.core.source import Characteristic, read_line

__all__ = ["CALLOUTS", "bench_callouts", "families", "is_right"]

CALLOUTS = r"""
# the seat first, parts set apart by commas
⌴⌀11 ↧6.5, ⌀6.6 THRU ; hole ; 1 ; diameter=33/5 through counterbore-diameter=11 counterbore-depth=13/2
CBORE ⌀11 X 6.5 DEEP, ⌀6.6 THRU ; hole ; 1 ; diameter=33/5 through counterbore-diameter=11 counterbore-depth=13/2
⌀6.6 THRU, CBORE ⌀11 6.5 DEEP ; hole ; 1 ; diameter=33/5 through counterbore-diameter=11 counterbore-depth=13/2
4x CBORE 11 x 6.5 deep, 6.6 drill thru ; hole ; 4 ; diameter=33/5 through counterbore-diameter=11 counterbore-depth=13/2
⌀5 THRU, CSK ⌀10 x 90° ; hole ; 1 ; diameter=5 through countersink-diameter=10 countersink-angle=90
CSK ⌀10 x 90°, ⌀5 THRU ; hole ; 1 ; diameter=5 through countersink-diameter=10 countersink-angle=90
countersink 10 x 90°, dia 5 thru ; hole ; 1 ; diameter=5 through countersink-diameter=10 countersink-angle=90
⌀8, 20 DEEP ; hole ; 1 ; diameter=8 depth=20
2x ⌀8 H7, ↧15 ; hole ; 2 ; diameter=8 depth=15
⌴⌀14 ↧4 ⌀8.5 THRU ; hole ; 1 ; diameter=17/2 through counterbore-diameter=14 counterbore-depth=4
SPOTFACE ⌀18 x 1 DEEP, ⌀9 THRU ; hole ; 1 ; diameter=9 through counterbore-diameter=18 counterbore-depth=1 counterbore-spot
⌵⌀12 × 82°, ⌀6 ↧15 ; hole ; 1 ; diameter=6 depth=15 countersink-diameter=12 countersink-angle=82
# outside and inside diameters
30 O.D. ; diameter ; 1 ; diameter=30
OD ⌀30 ; diameter ; 1 ; diameter=30
⌀30 OD ; diameter ; 1 ; diameter=30
ID ⌀22.5 ; diameter ; 1 ; diameter=45/2
⌀22.5 ID ; diameter ; 1 ; diameter=45/2
30 h6 OD ; diameter ; 1 ; diameter=30
OD: 30 ; length ; 1 ; length=30
I.D. 22 H7 ; diameter ; 1 ; diameter=22
ID 22 THRU ; hole ; 1 ; diameter=22 through
outside dia 30 ; diameter ; 1 ; diameter=30
inside dia 22 ; diameter ; 1 ; diameter=22
outer diameter 30 ; diameter ; 1 ; diameter=30
# a drill size with DRILL
6.6 DRILL THRU ; hole ; 1 ; diameter=33/5 through
⌀5 DRILL 12 DEEP ; hole ; 1 ; diameter=5 depth=12
4x 6.6 DRILL ; hole ; 4 ; diameter=33/5
⌀5 DRILLED THRU ; hole ; 1 ; diameter=5 through
8 REAM THRU ; hole ; 1 ; diameter=8 through
⌀8 H7 REAM ↧15 ; hole ; 1 ; diameter=8 depth=15
DRILL 5 DIA 12 DEEP ; hole ; 1 ; diameter=5 depth=12
drill thru 5 ; hole ; 1 ; diameter=5 through
30 BORE THRU ; hole ; 1 ; diameter=30 through
4.2 DRILL x 14 DEEP, 2 PLACES ; hole ; 2 ; diameter=21/5 depth=14
2 HOLES 5 DRILL THRU ; hole ; 2 ; diameter=5 through
⌀10 REAMED ; hole ; 1 ; diameter=10
# distances between centres
76 CRS ; length ; 1 ; length=76
44 C/C ; length ; 1 ; length=44
14 CTRS ; length ; 1 ; length=14
76 c-c ; length ; 1 ; length=76
76 CENTRE TO CENTRE ; length ; 1 ; length=76
76 between centres ; length ; 1 ; length=76
SLOT 8 WIDE 14 CRS ; slot ; 1 ; width=8 centres=14
SLOT 8 x 14 C/C THRU ; slot ; 1 ; width=8 centres=14 through
8 WIDE SLOT 14 CTRS ; slot ; 1 ; width=8 centres=14
44 center to center ; length ; 1 ; length=44
hole centres 76 CRS ; length ; 1 ; length=76
CRS 76 ; length ; 1 ; length=76
# fillets and rounds
R3 FILLET ; radius ; 1 ; radius=3
FILLET R3 ; radius ; 1 ; radius=3
4x R6 ROUND ; radius ; 4 ; radius=6
ROUND R6 ; radius ; 1 ; radius=6
3 FILLET ; radius ; 1 ; radius=3
fillet radius 3 ; radius ; 1 ; radius=3
R3 FILLETS ; radius ; 1 ; radius=3
CORNER R5 ; radius ; 1 ; radius=5
R5 CORNERS 4 PLACES ; radius ; 4 ; radius=5
blend R12 ; radius ; 1 ; radius=12
3R FILLET TYP ; radius ; 1 ; radius=3
R2 INTERNAL CORNERS ; radius ; 1 ; radius=2
# counts after
⌀6.6 THRU 4 HOLES ; hole ; 4 ; diameter=33/5 through
⌀6.6 THRU (4) ; hole ; 4 ; diameter=33/5 through
⌀6.6 THRU, 4 OFF ; hole ; 4 ; diameter=33/5 through
⌀6.6 THRU - 4 PLACES ; hole ; 4 ; diameter=33/5 through
R5 4X ; radius ; 4 ; radius=5
⌀5 ↧8 2x ; hole ; 2 ; diameter=5 depth=8
R5 (4 PLACES) ; radius ; 4 ; radius=5
⌀6.6 THRU 4 REQD ; hole ; 4 ; diameter=33/5 through
2 x 45° (2) ; chamfer ; 2 ; leg=2 angle=45
4 HOLES ⌀6.6 THRU ; hole ; 4 ; diameter=33/5 through
⌀6.6 THRU 4 POSITIONS ; hole ; 4 ; diameter=33/5 through
R5 x 4 PLACES ; radius ; 4 ; radius=5
# threads with their depths
M8 THREAD DEPTH 16 DRILL DEPTH 20 ; thread ; 1 ; thread:M8 depth=16 drill-depth=20 major=8 pitch=5/4 tap-drill=34/5
M8 ↧16 / 20 ; thread ; 1 ; thread:M8 depth=16 drill-depth=20 major=8 pitch=5/4 tap-drill=34/5
M8 16/20 DEEP ; thread ; 1 ; thread:M8 depth=16 drill-depth=20 major=8 pitch=5/4 tap-drill=34/5
M8x1.25 x 16 DEEP ; thread ; 1 ; thread:M8x1.25 depth=16 major=8 pitch=5/4 tap-drill=34/5
M8 - 16 DEEP ; thread ; 1 ; thread:M8 depth=16 major=8 pitch=5/4 tap-drill=34/5
M6 TAP 12 DEEP ; thread ; 1 ; thread:M6 depth=12 major=6 pitch=1 tap-drill=5
4x M6 THREAD ↧12 ; thread ; 4 ; thread:M6 depth=12 major=6 pitch=1 tap-drill=5
M6, 12 DEEP ; thread ; 1 ; thread:M6 depth=12 major=6 pitch=1 tap-drill=5
M8 thread 16 deep, drill 20 deep ; thread ; 1 ; thread:M8 depth=16 drill-depth=20 major=8 pitch=5/4 tap-drill=34/5
THREAD M8 16 DEEP ; thread ; 1 ; thread:M8 depth=16 major=8 pitch=5/4 tap-drill=34/5
DRILL ⌀6.8 ↧20, TAP M8 ↧16 ; thread ; 1 ; thread:M8 depth=16 drill-diameter=34/5 drill-depth=20 major=8 pitch=5/4
M8 FULL THREAD 16 ; thread ; 1 ; thread:M8 depth=16 major=8 pitch=5/4 tap-drill=34/5
# both and each
⌀9 THRU ⌴⌀15 ↧5 EACH SIDE ; hole ; 1 ; diameter=9 through counterbore-diameter=15 counterbore-depth=5 counterbore-far-diameter=15 counterbore-far-depth=5
2 x 45° EACH END ; chamfer ; 2 ; leg=2 angle=45
⌀5 THRU CSK ⌀10 x 90° EACH SIDE ; hole ; 1 ; diameter=5 through countersink-diameter=10 countersink-angle=90 countersink-far-diameter=10 countersink-far-angle=90
2 x 45° CHAMFER BOTH ENDS ; chamfer ; 2 ; leg=2 angle=45
CHAMFER 1 x 45° BOTH SIDES ; chamfer ; 2 ; leg=1 angle=45
R5 BOTH SIDES ; radius ; 2 ; radius=5
R5 EACH SIDE ; radius ; 2 ; radius=5
⌀9 THRU, CBORE ⌀15 x 5 DEEP BOTH SIDES ; hole ; 1 ; diameter=9 through counterbore-diameter=15 counterbore-depth=5 counterbore-far-diameter=15 counterbore-far-depth=5
2 x 45° EACH SIDE ; chamfer ; 2 ; leg=2 angle=45
1 x 45° both edges ; chamfer ; 2 ; leg=1 angle=45
M6 ↧12 BOTH ENDS ; thread ; 2 ; thread:M6 depth=12 major=6 pitch=1 tap-drill=5
⌀5 THRU ⌵⌀10 × 90° BOTH ENDS ; hole ; 1 ; diameter=5 through countersink-diameter=10 countersink-angle=90 countersink-far-diameter=10 countersink-far-angle=90
# a seat alone
SF ⌀14 ; seat ; 1 ; counterbore-diameter=14
SPOTFACE ⌀14 x 1 DEEP ; seat ; 1 ; counterbore-diameter=14 counterbore-depth=1 counterbore-spot
4x SPOT FACE ⌀14 ; seat ; 4 ; counterbore-diameter=14
CBORE ⌀11 ↧6.5 ; seat ; 1 ; counterbore-diameter=11 counterbore-depth=13/2
⌴⌀11 ↧6.5 ; seat ; 1 ; counterbore-diameter=11 counterbore-depth=13/2
CSK ⌀10 x 90° ; seat ; 1 ; countersink-diameter=10 countersink-angle=90
⌵⌀10 × 90° ; seat ; 1 ; countersink-diameter=10 countersink-angle=90
S.F. ⌀14 ; seat ; 1 ; counterbore-diameter=14
spot faced 14 dia ; seat ; 1 ; counterbore-diameter=14
# screws by number size
CLEARANCE #10 ; hole ; 1 ; diameter through
clearance for #8 ; hole ; 1 ; diameter through
CAP SCREW #10 ; hole ; 1 ; diameter through counterbore-diameter counterbore-depth
CLEARANCE FOR NO. 10 ; hole ; 1 ; diameter through
#10 CLEARANCE ; hole ; 1 ; diameter through
M6 CLEARANCE ; hole ; 1 ; diameter=33/5 through
M6 CLEARANCE HOLE ; hole ; 1 ; diameter=33/5 through
4x CLEARANCE FOR M6 SCREW ; hole ; 4 ; diameter=33/5 through
CLEAR M6 ; hole ; 1 ; diameter=33/5 through
# a counterbore with its depth
⌀6.6 THRU CBORE ⌀11 x 6.5 DEPTH ; hole ; 1 ; diameter=33/5 through counterbore-diameter=11 counterbore-depth=13/2
⌀6.6 THRU CBORE ⌀11 DEPTH 6.5 ; hole ; 1 ; diameter=33/5 through counterbore-diameter=11 counterbore-depth=13/2
⌀6.6 THRU CBORE 11 DIA 6.5 DEPTH ; hole ; 1 ; diameter=33/5 through counterbore-diameter=11 counterbore-depth=13/2
⌀6.6 THRU C/BORE ⌀11 ↧6.5 ; hole ; 1 ; diameter=33/5 through counterbore-diameter=11 counterbore-depth=13/2
⌀6.6 THRU COUNTERBORE 11 x 6.5 ; hole ; 1 ; diameter=33/5 through counterbore-diameter=11 counterbore-depth=13/2
⌀6.6 THRU C BORE ⌀11 6.5 DEEP ; hole ; 1 ; diameter=33/5 through counterbore-diameter=11 counterbore-depth=13/2
⌀5 THRU C/SINK ⌀10 x 90° ; hole ; 1 ; diameter=5 through countersink-diameter=10 countersink-angle=90
⌀5 THRU CSINK 10 x 90° ; hole ; 1 ; diameter=5 through countersink-diameter=10 countersink-angle=90
⌀6.6 THRU WITH CBORE ⌀11 ↧6.5 ; hole ; 1 ; diameter=33/5 through counterbore-diameter=11 counterbore-depth=13/2
⌀8 DEPTH 20 ; hole ; 1 ; diameter=8 depth=20
⌀8 20 DEPTH ; hole ; 1 ; diameter=8 depth=20
⌀8 TO DEPTH 20 ; hole ; 1 ; diameter=8 depth=20
# tapers
TAPER 1 IN 10 ; draft ; 1 ; ratio=1/10
1:10 TAPER ; draft ; 1 ; ratio=1/10
taper of 1 in 20 ; draft ; 1 ; ratio=1/20
1 IN 10 TAPER ; draft ; 1 ; ratio=1/10
TAPER 1:20 ON DIA ; draft ; 1 ; ratio=1/20
3° TAPER ; draft ; 1 ; angle=3
TAPER 1 TO 10 ; draft ; 1 ; ratio=1/10
DRAFT 2° ALL AROUND ; draft ; 1 ; angle=2
2° DRAFT PER SIDE ; draft ; 1 ; angle=2
# segment keys
SEGMENT KEYWAY R9.5 x 5 ; keyway ; 1 ; width=5 radius=19/2
SEGMENT KEYWAY 5 WIDE R9.5 ; keyway ; 1 ; width=5 radius=19/2
WOODRUFF R9.5 x 5 WIDE ; keyway ; 1 ; width=5 radius=19/2
segment key 5 x ⌀19 ; keyway ; 1 ; width=5 radius=19/2
WOODRUFF KEYSEAT 5 x R9.5 ; keyway ; 1 ; width=5 radius=19/2
WOODRUFF KEY ⌀19 x 5 ; keyway ; 1 ; width=5 radius=19/2
# splines
SPLINE 6 TEETH 23 ROOT 26 OD ; spline ; 1 ; teeth=6 minor=23 major=26
6 TOOTH SPLINE ⌀23 / ⌀26 ; spline ; 1 ; teeth=6 minor=23 major=26
SPLINE 6T ⌀23 ⌀26 ; spline ; 1 ; teeth=6 minor=23 major=26
SPLINE 6 TEETH, ROOT ⌀23, OUTSIDE ⌀26 ; spline ; 1 ; teeth=6 minor=23 major=26
spline 8 x 32 x 36 ; spline ; 1 ; teeth=8 minor=32 major=36
8 teeth spline root 32 outside 36 ; spline ; 1 ; teeth=8 minor=32 major=36
# polygons by their circles
HEX INSCRIBED IN ⌀22 ; polygon ; 1 ; across-corners=22 sides=6
HEXAGON CIRCUMSCRIBED ABOUT ⌀19 ; polygon ; 1 ; across-flats=19 sides=6
hex inscribed 22 ; polygon ; 1 ; across-corners=22 sides=6
octagon circumscribed 30 ; polygon ; 1 ; across-flats=30 sides=8
HEX 19 A/F ; polygon ; 1 ; across-flats=19 sides=6
19 AF HEX ; polygon ; 1 ; across-flats=19 sides=6
19 HEX ; polygon ; 1 ; across-flats=19 sides=6
SQUARE INSCRIBED IN ⌀17 ; polygon ; 1 ; across-corners=17 sides=4
hexagon 19 across flats ; polygon ; 1 ; across-flats=19 sides=6
# undercuts and reliefs, counted
2x UNDERCUT 2 x 0.5 ; groove ; 2 ; width=2 depth=1/2
2 UNDERCUTS 2 WIDE 0.5 DEEP ; groove ; 2 ; width=2 depth=1/2
2 RELIEFS 3 x ⌀18 ; groove ; 2 ; width=3 diameter=18
UNDERCUT 2 WIDE x ⌀18 ; groove ; 1 ; width=2 diameter=18
GROOVES 3 x 1.5, 2 PLACES ; groove ; 2 ; width=3 depth=3/2
3 WIDE GROOVE 1.5 DEEP ; groove ; 1 ; width=3 depth=3/2
2 x 0.5 UNDERCUT ; groove ; 1 ; width=2 depth=1/2
THREAD RELIEF 3 WIDE ⌀18 ; groove ; 1 ; width=3 diameter=18
3 GROOVES 2 WIDE ⌀18 ; groove ; 3 ; width=2 diameter=18
# squares, ribs, walls
12 SQUARE ; polygon ; 1 ; across-flats=12 sides=4
RIB 4 THICK ; wall ; 1 ; thickness=4
4 THICK RIB ; wall ; 1 ; thickness=4
WALL 3 THICK ; wall ; 1 ; thickness=3
3 mm WALL ; wall ; 1 ; thickness=3
2x RIBS 4 THICK ; wall ; 2 ; thickness=4
wall thickness 3 ; wall ; 1 ; thickness=3
3 THICK WALLS ; wall ; 1 ; thickness=3
4 WIDE RIB ; wall ; 1 ; thickness=4
# distances from something
HOLE 12 FROM TOP FACE ; length ; 1 ; length=12
20 UP FROM BASE ; length ; 1 ; length=20
15 IN FROM RIGHT ; length ; 1 ; length=15
12 DOWN FROM TOP ; length ; 1 ; length=12
12 TO LEFT EDGE ; length ; 1 ; length=12
distance 12 from datum A ; length ; 1 ; length=12
CENTRE 12 FROM EDGE ; length ; 1 ; length=12
bore centre 52 above base ; length ; 1 ; length=52
12 TO CENTRE ; length ; 1 ; length=12
52 TO CENTRELINE ; length ; 1 ; length=52
12 BELOW TOP ; length ; 1 ; length=12
10 from end ; length ; 1 ; length=10
# what the shop reads as text
58-62 HRC ; note ; 1 ;
CASE HARDEN 0.8 DEEP ; note ; 1 ;
HRC 60 MIN ; note ; 1 ;
ZINC PLATE 8 MICRONS ; note ; 1 ;
NITRIDE 0.3 ; note ; 1 ;
STRESS RELIEVE ; note ; 1 ;
HARDNESS 200 HB ; note ; 1 ;
OIL QUENCH AND TEMPER ; note ; 1 ;
BEAD BLAST ; note ; 1 ;
SAND BLASTED ; note ; 1 ;
INDUCTION HARDEN TEETH ; note ; 1 ;
TUMBLE ; note ; 1 ;
# other languages
Kanten entgraten ; note ; 1 ;
alle Kanten gebrochen ; note ; 1 ;
sans bavures ; note ; 1 ;
toutes les arêtes cassées 0.3 ; note ; 1 ;
bordi smussati ; note ; 1 ;
quitar rebabas ; note ; 1 ;
Oberfläche geschliffen ; note ; 1 ;
ostré hrany zrazit ; note ; 1 ;
rebarbar arestas ; note ; 1 ;
"""


def families() -> dict[str, list[tuple[str, bool]]]:
    """The rows of each family; whether a row is kept aside."""
    out: dict[str, list[tuple[str, bool]]] = {}
    name = ""
    for row in CALLOUTS.splitlines():
        if row.startswith("# "):
            name = row[2:]
        elif row.strip():
            mine = out.setdefault(name, [])
            mine.append((row, len(mine) % 3 == 2))
    return out | spoken_callouts()


_PART = re.compile(r"([a-z-]+)(?:=(\S+)|:(.+?)(?= [a-z-]+(?:=| |$)|$))?(?:\s|$)")


def is_right(read: Characteristic, row: str) -> bool:
    """Whether a line was read as its row says."""
    _, kind, count, *rest = (c.strip() for c in row.split(";"))
    if read.error is not None or (read.kind, read.count) != (kind, int(count)):
        return False
    wanted: dict[str, Any] = {}
    for name, number, text in _PART.findall(rest[0] if rest else ""):
        wanted[name] = Fraction(number) if number else text or None
    found = {p.name: (p.designation or "").replace(" ", "") or p.nominal for p in read.parts}
    return set(found) == set(wanted) and all(
        v is None or found[n] == (v.replace(" ", "") if isinstance(v, str) else v) for n, v in wanted.items()
    )


def bench_callouts(show: bool = True) -> dict[str, Any]:
    """Read all callouts and print the table."""
    rules = HouseRules(unit=Unit.MM)
    rows: list[tuple[str, int, int, int, int]] = []
    wrong = []
    for name, mine in families().items():
        right = {True: 0, False: 0}
        for row, away in mine:
            if is_right(read_line(row.split(" ; ")[0].strip(), rules), row):
                right[away] += 1
            else:
                wrong.append((name, row, away))
        kept = sum(away for _, away in mine)
        rows.append((name, right[False], len(mine) - kept, right[True], kept))
    known, of, aside, aside_of = (sum(column) for column in zip(*(r[1:] for r in rows), strict=True))
    if show:
        print(f"{'family':44}{'known':>10}{'kept aside':>12}")
        for r in [*rows, ("all", known, of, aside, aside_of)]:
            print(f"{r[0]:44}{r[1]:>6}/{r[2]:<3}{r[3]:>8}/{r[4]:<3}")
        for name, row, away in wrong:
            print(f"  {'aside' if away else 'known'}: {row.split(' ; ')[0]}   ({name})")
    return {"bench": "callouts", "known": known, "of": of, "aside": aside, "aside_of": aside_of}
