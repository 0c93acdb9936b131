"""Shorthand with its meaning, one example a line.

shorthand ; kind ; count ; parts: name=exact value (mm or degrees), name alone for yes, name:text for a designation
Sizes are read in mm; lines after [in] in inches, with values in inches.
"""

EXAMPLES = r"""
96 ; length ; 1 ; length=96
0.5 ; length ; 1 ; length=1/2
12,5 ; length ; 1 ; length=25/2
.265 ; length ; 1 ; length=53/200
3/8 ; length ; 1 ; length=3/8
2 11/16 ; length ; 1 ; length=43/16
2-11/16 ; length ; 1 ; length=43/16
1/64 ; length ; 1 ; length=1/64
12. ; length ; 1 ; length=12
length 80 ; length ; 1 ; length=80
80 long ; length ; 1 ; length=80
80 OVERALL ; length ; 1 ; length=80
overall 80 ; length ; 1 ; length=80
40 wide ; length ; 1 ; length=40
width 40 ; length ; 1 ; length=40
12 high ; length ; 1 ; length=12
height 12 ; length ; 1 ; length=12
6 thick ; length ; 1 ; length=6
6 THK ; length ; 1 ; length=6
thickness 6 ; length ; 1 ; length=6
(80) ; length ; 1 ; length=80
80 REF ; length ; 1 ; length=80
80 reference ; length ; 1 ; length=80
(2 11/16) ; length ; 1 ; length=43/16
[25] ; length ; 1 ; length=25
25 BASIC ; length ; 1 ; length=25
25 bsc ; length ; 1 ; length=25
4x 12 ; length ; 4 ; length=12
4X 12 ; length ; 4 ; length=12
4 × 12 ; length ; 4 ; length=12
12 X4 ; length ; 4 ; length=12
12 x4 ; length ; 4 ; length=12
12 4 PLACES ; length ; 4 ; length=12
12 4 places ; length ; 4 ; length=12
12 4 PLS ; length ; 4 ; length=12
12 2 off ; length ; 2 ; length=12
12 TYP ; length ; 1 ; length=12
12 ±.1 ; length ; 1 ; length=12
12 +/-0.1 ; length ; 1 ; length=12
12 +0.2 -0.1 ; length ; 1 ; length=12
12.1/11.9 ; length ; 1 ; length=12
12 MAX ; length ; 1 ; length=12
12 min ; length ; 1 ; length=12
20 H7 ; length ; 1 ; length=20
20 h9 ; length ; 1 ; length=20
12 mm ; length ; 1 ; length=12
1.5 in ; length ; 1 ; length=381/10
1 1/2" ; length ; 1 ; length=381/10
2 inches ; length ; 1 ; length=254/5
500 thou ; length ; 1 ; length=127/10
5 mil ; length ; 1 ; length=127/1000
1' ; length ; 1 ; length=1524/5
1' 2" ; length ; 1 ; length=1778/5
1'-2 1/2" ; length ; 1 ; length=3683/10
2 ft ; length ; 1 ; length=3048/5
12 [in] ; length ; 1 ; length=1524/5
12 from left edge ; length ; 1 ; length=12
12 FROM TOP ; length ; 1 ; length=12
base width: 40 ; length ; 1 ; length=40
upper boss height: 12 ±.1 ; length ; 1 ; length=12
12 UON ; length ; 1 ; length=12
⌀12 ; diameter ; 1 ; diameter=12
ø12 ; diameter ; 1 ; diameter=12
Ø 12 ; diameter ; 1 ; diameter=12
dia 12 ; diameter ; 1 ; diameter=12
DIA12 ; diameter ; 1 ; diameter=12
12 dia ; diameter ; 1 ; diameter=12
12 DIAM ; diameter ; 1 ; diameter=12
diameter 12 ; diameter ; 1 ; diameter=12
12⌀ ; diameter ; 1 ; diameter=12
OD 30 ; diameter ; 1 ; diameter=30
30 OD ; diameter ; 1 ; diameter=30
ID 22.5 ; diameter ; 1 ; diameter=45/2
22.5 ID ; diameter ; 1 ; diameter=45/2
O.D. 30 ; diameter ; 1 ; diameter=30
4x ⌀8 ; diameter ; 4 ; diameter=8
⌀8 4 PLACES ; diameter ; 4 ; diameter=8
⌀8 X4 ; diameter ; 4 ; diameter=8
(⌀8) ; diameter ; 1 ; diameter=8
⌀20 H7 ; diameter ; 1 ; diameter=20
⌀20H7 ; diameter ; 1 ; diameter=20
⌀25 g6 ; diameter ; 1 ; diameter=25
⌀30 js6 ; diameter ; 1 ; diameter=30
⌀12 ±.02 ; diameter ; 1 ; diameter=12
⌀12.02/11.98 ; diameter ; 1 ; diameter=12
⌀12 +.02 -0 ; diameter ; 1 ; diameter=12
pivot bore: ⌀12 H7 ; diameter ; 1 ; diameter=12
S⌀20 ; diameter ; 1 ; diameter=20 sphere
sphere 20 ; diameter ; 1 ; diameter=20 sphere
S dia 20 ; diameter ; 1 ; diameter=20 sphere
spherical dia 20 ; diameter ; 1 ; diameter=20 sphere
SR10 ; radius ; 1 ; radius=10 sphere
SR 10 ; radius ; 1 ; radius=10 sphere
spherical radius 10 ; radius ; 1 ; radius=10 sphere
sphere R10 ; radius ; 1 ; radius=10 sphere
R6 ; radius ; 1 ; radius=6
r 3.5 ; radius ; 1 ; radius=7/2
6R ; radius ; 1 ; radius=6
6 R ; radius ; 1 ; radius=6
RAD 6 ; radius ; 1 ; radius=6
radius 6 ; radius ; 1 ; radius=6
R.5 ; radius ; 1 ; radius=1/2
4× R.5 ; radius ; 4 ; radius=1/2
R6 X2 ; radius ; 2 ; radius=6
R6 TYP ; radius ; 1 ; radius=6
R1/4 ; radius ; 1 ; radius=1/4
FULL R ; radius ; 1 ; full-radius
full radius ; radius ; 1 ; full-radius
R6 ±.2 ; radius ; 1 ; radius=6
ALL ROUNDS R2 ; round ; 1 ; radius=2
ROUNDS AND FILLETS R3 UON ; round ; 1 ; radius=3
fillets and rounds R3 ; round ; 1 ; radius=3
unspecified radii R2 ; round ; 1 ; radius=2
rounds 1.5 ; round ; 1 ; radius=3/2
break edges 0.3 ; chamfer ; 1 ; leg=3/10 angle=45
BREAK ALL SHARP EDGES 0.3 ; chamfer ; 1 ; leg=3/10 angle=45
edges .01 ; chamfer ; 1 ; leg=1/100 angle=45
ALL CHAMFERS 1 x 45° ; chamfer ; 1 ; leg=1 angle=45
unspecified chamfers 1 ; chamfer ; 1 ; leg=1 angle=45
45° ; angle ; 1 ; angle=45
37.5° ; angle ; 1 ; angle=75/2
37,5 deg ; angle ; 1 ; angle=75/2
30 degrees ; angle ; 1 ; angle=30
30°15' ; angle ; 1 ; angle=121/4
30° 15' 36" ; angle ; 1 ; angle=1513/50
30° ±1° ; angle ; 1 ; angle=30
30° ±0.5 ; angle ; 1 ; angle=30
30° ±30' ; angle ; 1 ; angle=30
60° from base ; angle ; 1 ; angle=60
flank: 30° from axis ; angle ; 1 ; angle=30
2x 60° ; chamfer ; 1 ; leg=2 angle=60
(45°) ; angle ; 1 ; angle=45
2 x 45° ; chamfer ; 1 ; leg=2 angle=45
2x45° ; chamfer ; 1 ; leg=2 angle=45
2 × 45 deg ; chamfer ; 1 ; leg=2 angle=45
.5 x 30° ; chamfer ; 1 ; leg=1/2 angle=30
4x 2 x 45° ; chamfer ; 4 ; leg=2 angle=45
2 x 45° X4 ; chamfer ; 4 ; leg=2 angle=45
2 x 45° 4 PLACES ; chamfer ; 4 ; leg=2 angle=45
2 x 45° both sides ; chamfer ; 2 ; leg=2 angle=45
2 x 45° BOTH ENDS ; chamfer ; 2 ; leg=2 angle=45
3x 2 x 45° both ends ; chamfer ; 6 ; leg=2 angle=45
2 x 45° chamfer ; chamfer ; 1 ; leg=2 angle=45
chamfer 2 x 45° ; chamfer ; 1 ; leg=2 angle=45
chamfer 2 ; chamfer ; 1 ; leg=2 angle=45
2 chamfer ; chamfer ; 1 ; leg=2 angle=45
CHAM 3 x 2 ; chamfer ; 1 ; leg=3 leg-b=2
3 x 2 chamfer ; chamfer ; 1 ; leg=3 leg-b=2
4× 3 × 2 CHAMFER ; chamfer ; 4 ; leg=3 leg-b=2
2 x 45° FOR 20 ; chamfer ; 1 ; leg=2 angle=45 length=20
1/16 x 45° ; chamfer ; 1 ; leg=1/16 angle=45
⌀6.6 THRU ; hole ; 1 ; diameter=33/5 through
6.6 dia through all ; hole ; 1 ; diameter=33/5 through
⌀6.6 THRU ALL ; hole ; 1 ; diameter=33/5 through
⌀6.6 through ; hole ; 1 ; diameter=33/5 through
⌀5 ↧8 ; hole ; 1 ; diameter=5 depth=8
⌀5 8 deep ; hole ; 1 ; diameter=5 depth=8
⌀5 x 8 deep ; hole ; 1 ; diameter=5 depth=8
5 dia x 8 dp ; hole ; 1 ; diameter=5 depth=8
2X DIA 5 DEPTH 8 ; hole ; 2 ; diameter=5 depth=8
⌀5 8 deep flat bottom ; hole ; 1 ; diameter=5 depth=8 flat-bottom
⌀5 ↧8 118° point ; hole ; 1 ; diameter=5 depth=8 point-angle=118
⌀6 hole ; hole ; 1 ; diameter=6
5 holes ⌀4 thru ; hole ; 5 ; diameter=4 through
6x ⌀4 hole thru ; hole ; 6 ; diameter=4 through
drill 5 thru ; hole ; 1 ; diameter=5 through
DRILL ⌀5 12 DEEP ; hole ; 1 ; diameter=5 depth=12
ream 8 H7 thru ; hole ; 1 ; diameter=8 through
REAM ⌀8 H7 ↧15 ; hole ; 1 ; diameter=8 depth=15
bore 30 thru ; hole ; 1 ; diameter=30 through
⌀12 H7 THRU ; hole ; 1 ; diameter=12 through
⌀12 ±.02 THRU ; hole ; 1 ; diameter=12 through
4x ⌀6.6 THRU ⌴⌀11 ↧6.5 ; hole ; 4 ; diameter=33/5 through counterbore-diameter=11 counterbore-depth=13/2
4x 6.6 dia thru cbore 11 dia 6.5 deep ; hole ; 4 ; diameter=33/5 through counterbore-diameter=11 counterbore-depth=13/2
4x dia 6.6 thru cbore 11 6.5 deep ; hole ; 4 ; diameter=33/5 through counterbore-diameter=11 counterbore-depth=13/2
4x dia 6.6 thru cbore dia 11 x 6.5 deep ; hole ; 4 ; diameter=33/5 through counterbore-diameter=11 counterbore-depth=13/2
⌀6.6 thru c'bore 11 x 6.5 ; hole ; 1 ; diameter=33/5 through counterbore-diameter=11 counterbore-depth=13/2
⌀6.6 THRU counterbore 11 depth 6.5 ; hole ; 1 ; diameter=33/5 through counterbore-diameter=11 counterbore-depth=13/2
⌀6.6 ⌴⌀11 ↧6.5 ; hole ; 1 ; diameter=33/5 counterbore-diameter=11 counterbore-depth=13/2
⌀6.6 ↧20 ⌴⌀11 ↧6.5 ; hole ; 1 ; diameter=33/5 depth=20 counterbore-diameter=11 counterbore-depth=13/2
⌀9 THRU ⌴⌀15 ↧5 FAR SIDE ; hole ; 1 ; diameter=9 through counterbore-far-diameter=15 counterbore-far-depth=5
⌀8 THRU ⌴⌀14 ↧12 ⌴⌀20 ↧5 ; hole ; 1 ; diameter=8 through counterbore-diameter=20 counterbore-depth=5 counterbore-b-diameter=14 counterbore-b-depth=12
⌀8 THRU ⌴⌀20 ↧5 FAR SIDE ⌴⌀14 ↧12 FAR SIDE ; hole ; 1 ; diameter=8 through counterbore-far-diameter=20 counterbore-far-depth=5 counterbore-b-far-diameter=14 counterbore-b-far-depth=12
⌀9 THRU ⌴⌀15 ↧5 BOTH SIDES ; hole ; 1 ; diameter=9 through counterbore-diameter=15 counterbore-depth=5 counterbore-far-diameter=15 counterbore-far-depth=5
⌀9 THRU ⌴⌀15 ↧5 near side ; hole ; 1 ; diameter=9 through counterbore-diameter=15 counterbore-depth=5
⌀12 THRU ⌵⌀16 × 90° ; hole ; 1 ; diameter=12 through countersink-diameter=16 countersink-angle=90
⌀12 thru csk 16 x 90 deg ; hole ; 1 ; diameter=12 through countersink-diameter=16 countersink-angle=90
⌀12 thru csk 90° x 16 ; hole ; 1 ; diameter=12 through countersink-diameter=16 countersink-angle=90
⌀12 thru countersink dia 16 x 82° ; hole ; 1 ; diameter=12 through countersink-diameter=16 countersink-angle=82
⌀5 THRU ⌵⌀10 × 90° far side ; hole ; 1 ; diameter=5 through countersink-far-diameter=10 countersink-far-angle=90
⌀5 THRU csk 10 x 90° both sides ; hole ; 1 ; diameter=5 through countersink-diameter=10 countersink-angle=90 countersink-far-diameter=10 countersink-far-angle=90
⌀9 THRU SF ⌀20 ↧1 ; hole ; 1 ; diameter=9 through counterbore-diameter=20 counterbore-depth=1 counterbore-spot
⌀9 THRU spotface 20 ; hole ; 1 ; diameter=9 through counterbore-diameter=20
⌀9 THRU SF20 ; hole ; 1 ; diameter=9 through counterbore-diameter=20
⌀10 THRU RIM 1 × 45° ; hole ; 1 ; diameter=10 through rim-size=1 rim-angle=45
⌀10 ↧12 RIM R1 ; hole ; 1 ; diameter=10 depth=12 rim-radius=1
⌀6.6 THRU ⌴⌀11 ↧6.5 ⌵⌀8 × 90° FAR SIDE ; hole ; 1 ; diameter=33/5 through counterbore-diameter=11 counterbore-depth=13/2 countersink-far-diameter=8 countersink-far-angle=90
4x ⌀3.3 THRU EQ SP ON ⌀20 PCD ; hole ; 4 ; diameter=33/10 through pitch-circle=20 equally-spaced
4x ⌀3.3 THRU equally spaced ON ⌀20 PCD ; hole ; 4 ; diameter=33/10 through pitch-circle=20 equally-spaced
4x ⌀3.3 THRU ON 20 DIA PCD ; hole ; 4 ; diameter=33/10 through pitch-circle=20
6x ⌀5 THRU EQ SP ON ⌀60 PCD START 15° ; hole ; 6 ; diameter=5 through pitch-circle=60 equally-spaced start-angle=15
8x ⌀5 THRU 45° APART ON ⌀60 PCD ; hole ; 8 ; diameter=5 through pitch-angle=45 pitch-circle=60
⌀90 PCD 40° ±0.5° APART START 200° ; pattern ; 1 ; pitch-circle=90 pitch-angle=40 start-angle=200
⌀90 PCD AT 0°, 33°, 75° ; pattern ; 1 ; pitch-circle=90 member-1-angle=0 member-2-angle=33 member-3-angle=75
8x ⌀5 THRU AT 45° ; hole ; 8 ; diameter=5 through pitch-angle=45
5x ⌀4 thru at 20 pitch ; hole ; 5 ; diameter=4 through pitch=20
⌀4 THRU 5 PLACES AT 20 PITCH ; hole ; 5 ; diameter=4 through pitch=20
⌀6.6 THRU TYP ; hole ; 1 ; diameter=33/5 through
(⌀6.6 THRU) ; hole ; 1 ; diameter=33/5 through
oil hole: ⌀3 ↧12 ; hole ; 1 ; diameter=3 depth=12
clearance M6 close ; hole ; 1 ; diameter=32/5 through
CLEARANCE M6 ; hole ; 1 ; diameter=33/5 through
clearance hole for M8 loose ; hole ; 1 ; diameter=10 through
4x clearance M5 normal ; hole ; 4 ; diameter=11/2 through
clearance M10 close ↧20 ; hole ; 1 ; diameter=21/2 depth=20
cap screw M6 ; hole ; 1 ; diameter=33/5 through counterbore-diameter=11 counterbore-depth=32/5
6x CAP SCREW M8 close ; hole ; 6 ; diameter=42/5 through counterbore-diameter=15 counterbore-depth=43/5
socket cap screw M5 ; hole ; 1 ; diameter=11/2 through counterbore-diameter=10 counterbore-depth=27/5
flat head screw M5 ; hole ; 1 ; diameter=11/2 through countersink-diameter=52/5 countersink-angle=90
csk screw M4 ; hole ; 1 ; diameter=9/2 through countersink-diameter=47/5 countersink-angle=90
tap drill M8 ↧20 ; hole ; 1 ; diameter=34/5 depth=20
tap drill for M10 thru ; hole ; 1 ; diameter=17/2 through
M8 ; thread ; 1 ; thread:M8 major=8 pitch=5/4 tap-drill=34/5
M8x1.25 ; thread ; 1 ; thread:M8x1.25 major=8 pitch=5/4 tap-drill=34/5
M20×Ph5P2.5 ; thread ; 1 ; thread:M20×Ph5P2.5 major=20 pitch=5/2 lead=5 tap-drill=35/2
Tr40×14(P7) LH ; thread ; 1 ; thread:Tr40×14(P7) LH major=40 pitch=7 lead=14 tap-drill=33
GROOVE R2 × ⌀26 ; groove ; 1 ; radius=2 diameter=26
2x groove R1.5 ⌀45 ↧1.5 ; groove ; 2 ; radius=3/2 diameter=45 depth=3/2
M8x1 ; thread ; 1 ; thread:M8x1 major=8 pitch=1 tap-drill=7
M8 x 1.25 - 6H ; error
M8x1.25-6H ↧16 ; thread ; 1 ; thread:M8x1.25-6H depth=16 major=8 pitch=5/4 tap-drill=34/5
M8-6H ↧16 ; thread ; 1 ; thread:M8-6H depth=16 major=8 pitch=5/4 tap-drill=34/5
M8x1.25-6H ↧16 DRILL ⌀6.8 ↧20 ; thread ; 1 ; thread:M8x1.25-6H depth=16 drill-diameter=34/5 drill-depth=20 major=8 pitch=5/4
M8 16 deep drill 6.8 20 deep ; thread ; 1 ; thread:M8 depth=16 drill-diameter=34/5 drill-depth=20 major=8 pitch=5/4
M8 ↧16 ⌀6.8 ↧20 ; thread ; 1 ; thread:M8 depth=16 drill-diameter=34/5 drill-depth=20 major=8 pitch=5/4
4x M6 ↧12 ; thread ; 4 ; thread:M6 depth=12 major=6 pitch=1 tap-drill=5
tapped M6 ↧12 ; thread ; 1 ; thread:M6 depth=12 major=6 pitch=1 tap-drill=5
tap M6 thru ; thread ; 1 ; thread:M6 through major=6 pitch=1 tap-drill=5
M12 THRU ; thread ; 1 ; thread:M12 through major=12 pitch=7/4 tap-drill=51/5
M20x1.5 LH ; thread ; 1 ; thread:M20x1.5 LH major=20 pitch=3/2 tap-drill=37/2
M10 x 30 LONG ; thread ; 1 ; thread:M10 length=30 major=10 pitch=3/2
M10x1.5-6g 30 LONG ; thread ; 1 ; thread:M10x1.5-6g length=30 major=10 pitch=3/2
M6 ↧10 csk 7 x 90° ; thread ; 1 ; thread:M6 depth=10 countersink-diameter=7 countersink-angle=90 major=6 pitch=1 tap-drill=5
3x M5 ↧10 EQ SP ON ⌀50 PCD ; thread ; 3 ; thread:M5 depth=10 pitch-circle=50 equally-spaced major=5 pitch=4/5 tap-drill=21/5
G1/2 ; thread ; 1 ; thread:G1/2 major=4191/200 pitch=127/70 tap-drill=19
G 1/4 A ↧12 ; thread ; 1 ; thread:G 1/4 A depth=12 major=13157/1000 pitch=127/95 tap-drill=59/5
Rc 1/8 ; thread ; 1 ; thread:Rc 1/8 major=1216/125 pitch=127/140 tap-drill=44/5
1/8 BSP ; thread ; 1 ; thread:1/8 BSP major=1216/125 pitch=127/140 tap-drill=44/5
Tr20x4 ; thread ; 1 ; thread:Tr20x4 major=20 pitch=4 tap-drill=16
Tr 40x7 ; thread ; 1 ; thread:Tr 40x7 major=40 pitch=7 tap-drill=33
Tr20x4 LH ; thread ; 1 ; thread:Tr20x4 LH major=20 pitch=4 tap-drill=16
slot 8 x 14 centres thru ; slot ; 1 ; width=8 centres=14 through
2× SLOT 8 WIDE ↧5 14 CENTRES ; slot ; 2 ; width=8 depth=5 centres=14
SLOT 8 WIDE THRU 14 CENTRES ; slot ; 1 ; width=8 through centres=14
SLOT 8 x 22 ; slot ; 1 ; width=8 length=22
SLOT 8 x 22 overall ; slot ; 1 ; width=8 length=22
slot 8 x 22 long x 5 deep ; slot ; 1 ; width=8 length=22 depth=5
8 x 22 SLOT ; slot ; 1 ; width=8 length=22
8 x 22 slot thru ; slot ; 1 ; width=8 length=22 through
2x 8 x 22 slot ; slot ; 2 ; width=8 length=22
slot 8 wide x 14 c-c ; slot ; 1 ; width=8 centres=14
slot 8 wide 14 centers ↧4 ; slot ; 1 ; width=8 centres=14 depth=4
arc slot 8 wide R40 60° start 30° ; arc-slot ; 1 ; width=8 radius=40 angle=60 start-angle=30
ARC SLOT 6 R25 90° SWEEP THRU ; arc-slot ; 1 ; width=6 radius=25 angle=90 through
3x curved slot 5 x R30 45° ; arc-slot ; 3 ; width=5 radius=30 angle=45
KEYWAY 6 x 3.5 ; keyway ; 1 ; width=6 depth=7/2
keyway 6 wide 3.5 deep 25 long ; keyway ; 1 ; width=6 depth=7/2 length=25
KEYWAY 6 x 3.5 x 25 ; keyway ; 1 ; width=6 depth=7/2 length=25
keyseat 6 x 3.5 ; keyway ; 1 ; width=6 depth=7/2
keyway 6 x 22.8 from axis ; keyway ; 1 ; width=6 from-axis=114/5
woodruff 5 x dia 19 ; keyway ; 1 ; width=5 radius=19/2
SEGMENT KEYWAY 5 x R9.5 ; keyway ; 1 ; width=5 radius=19/2
woodruff keyway 5 R9.5 6 deep ; keyway ; 1 ; width=5 radius=19/2 depth=6
spline 6 x 23 x 26 ; spline ; 1 ; teeth=6 minor=23 major=26
HEX 19 AF ; polygon ; 1 ; across-flats=19 sides=6
hex AF 19 ; polygon ; 1 ; across-flats=19 sides=6
19 A/F ; polygon ; 1 ; across-flats=19
AF 19 ; polygon ; 1 ; across-flats=19
19 across flats ; polygon ; 1 ; across-flats=19
hexagon 22 across corners ; polygon ; 1 ; across-corners=22 sides=6
HEX 22 AC ; polygon ; 1 ; across-corners=22 sides=6
octagon 30 AF ; polygon ; 1 ; across-flats=30 sides=8
□12 ; polygon ; 1 ; across-flats=12 sides=4
SQ 12 ; polygon ; 1 ; across-flats=12 sides=4
12 SQ ; polygon ; 1 ; across-flats=12 sides=4
square 12 AF ; polygon ; 1 ; across-flats=12 sides=4
groove 3 x 1.5 ; groove ; 1 ; width=3 depth=3/2
GROOVE 3 WIDE 1.5 DEEP ; groove ; 1 ; width=3 depth=3/2
groove 3 x ⌀24 ; groove ; 1 ; width=3 diameter=24
2x groove 3 ↧1.5 ; groove ; 2 ; width=3 depth=3/2
undercut 2 x 0.5 ; groove ; 1 ; width=2 depth=1/2
relief 2.5 x dia 18 ; groove ; 1 ; width=5/2 diameter=18
thread relief 3 x ⌀13 ; groove ; 1 ; width=3 diameter=13
O-ring groove 3.6 x ⌀42 ; groove ; 1 ; width=18/5 diameter=42
neck 2 x 1 ; groove ; 1 ; width=2 depth=1
draft 3° ; draft ; 1 ; angle=3
3° draft ; draft ; 1 ; angle=3
taper 5° ; draft ; 1 ; angle=5
TAPER 1:10 ; draft ; 1 ; ratio=1/10
taper 1:20 ; draft ; 1 ; ratio=1/20
wall 3 ; wall ; 1 ; thickness=3
3 wall ; wall ; 1 ; thickness=3
WALL THICKNESS 2.5 ±.2 ; wall ; 1 ; thickness=5/2
⌀20 PCD ; pattern ; 1 ; pitch-circle=20
PCD 20 ; pattern ; 1 ; pitch-circle=20
20 dia pitch circle ; pattern ; 1 ; pitch-circle=20
⌀20 BC ; pattern ; 1 ; pitch-circle=20
pitch 20 ; pattern ; 1 ; pitch=20
20 pitch ; pattern ; 1 ; pitch=20
5x pitch 20 ; pattern ; 5 ; pitch=20
20 apart ; pattern ; 1 ; pitch=20
grid 3 x 4 ; pattern ; 1 ; columns=3 rows=4
GRID 3 x 4 AT 20 x 15 ; pattern ; 1 ; columns=3 rows=4 pitch=20 pitch-b=15
DOVETAIL 20 WIDE × 60° ↧8 ; dovetail ; 1 ; width=20 angle=60 depth=8
20 wide dovetail 60° x 8 high ; dovetail ; 1 ; width=20 angle=60 height=8
2x dove tail slot 12 60° ; dovetail ; 2 ; width=12 angle=60
DOVETAIL 20 ↧8 × 6 HIGH ; error ; 1
24 TEETH EQ SP ; repeat ; 1 ; members=24
6 PLACES EQ SP ; repeat ; 1 ; members=6 places
8 PLACES AT 7 PITCH ; repeat ; 1 ; members=8 places pitch=7
24 teeth ; repeat ; 1 ; members=24
6 lobes equally spaced ; repeat ; 1 ; members=6 lobes
2.5 TEETH ; error ; 1
BEND R38 TO CL ; bend ; 1 ; radius=38
3x bend R1.5 to centre line ; bend ; 3 ; radius=3/2
CLR 38 ; bend ; 1 ; radius=38
Ra 1.6 ; surface-texture ; 1 ; parameter:Ra roughness=8/5
RA1.6 ; surface-texture ; 1 ; parameter:Ra roughness=8/5
note: deburr ; note ; 1
FLAT 0.05 ; tolerance-frame ; 1 ; tolerance:flatness zone=1/20
flatness 0.05 ; tolerance-frame ; 1 ; tolerance:flatness zone=1/20
⏥ 0.05 ; tolerance-frame ; 1 ; tolerance:flatness zone=1/20
perp 0.02 A ; tolerance-frame ; 1 ; tolerance:perpendicularity zone=1/50 datum-1:A
perp 0.1 to A ; tolerance-frame ; 1 ; tolerance:perpendicularity zone=1/10 datum-1:A
flatness 0.05 A ; error ; 1
concentricity 0.05 ; error ; 1
position ⌀0.1 A B C ; tolerance-frame ; 1 ; tolerance:position zone=1/10 round-zone datum-1:A datum-2:B datum-3:C
4x true position dia 0.2 MMC to A B ; tolerance-frame ; 4 ; tolerance:position zone=1/5 round-zone modifier:(M) datum-1:A datum-2:B
harden 58-60 HRC ; note ; 1
grind after hardening ; note ; 1
blacken ; note ; 1
zinc plate ; note ; 1
heat treat to 32 HRC ; note ; 1
runout 0.02 A ; tolerance-frame ; 1 ; tolerance:runout zone=1/50 datum-1:A
run-out 0.02 A-B ; tolerance-frame ; 1 ; tolerance:runout zone=1/50 datum-1:A-B
⊥ 0.1 A ; tolerance-frame ; 1 ; tolerance:perpendicularity zone=1/10 datum-1:A
4x ⌀6.6 thr ; error
⌀20 PCF ; error
12..5 ; error
4x ; error
⌀ ; error
blurb ; error
2 x 3 x 4 ; error
12 12 ; error
4x 4x 12 ; error
4x 12 X4 ; error
2.5x 12 ; error
⌀0 THRU ; error
M9 ↧10 ; error
M8x20 ; error
1/4-19 UNC ; error
20 H99 ; error
12 ±x ; error
8 SLOT ; error
KEYWAY 6 x 3 x 20 x 9 ; error
9999999999999 ; error
12 squares ; error
clearance M99 ; error
⌀6 THRU THRU ; error
[in]
2 7/8 ; length ; 1 ; length=23/8
.500 ; length ; 1 ; length=1/2
1.8125 ±.005 ; length ; 1 ; length=29/16
12 mm ; length ; 1 ; length=60/127
4x ⌀.265 THRU ⌴⌀.438 ↧.250 ; hole ; 4 ; diameter=53/200 through counterbore-diameter=219/500 counterbore-depth=1/4
4x 17/64 DIA THRU ; hole ; 4 ; diameter=17/64 through
⌀1/4 thru ; hole ; 1 ; diameter=1/4 through
⌀.265 THRU CSK .5 x 82° ; hole ; 1 ; diameter=53/200 through countersink-diameter=1/2 countersink-angle=82
3/8-16 UNC-2B ↧.75 ; thread ; 1 ; thread:3/8-16 UNC-2B depth=3/4 major=3/8 pitch=1/16 tap-drill=5/16
1/4-20 UNC ; thread ; 1 ; thread:1/4-20 UNC major=1/4 pitch=1/20 tap-drill=201/1000
1/4-28 UNF-2B ; thread ; 1 ; thread:1/4-28 UNF-2B major=1/4 pitch=1/28 tap-drill=213/1000
10-32 UNF ; thread ; 1 ; thread:10-32 UNF major=19/100 pitch=1/32 tap-drill=159/1000
6-32 UNC ; thread ; 1 ; thread:6-32 UNC major=69/500 pitch=1/32 tap-drill=213/2000
1-8 UNC ; thread ; 1 ; thread:1-8 UNC major=1 pitch=1/8 tap-drill=7/8
1/4-18 NPT ; thread ; 1 ; thread:1/4-18 NPT major=27/50 pitch=1/18 tap-drill=7/16
1/2 NPT ; thread ; 1 ; thread:1/2 NPT major=21/25 pitch=1/14 tap-drill=7031/10000
1 1/4-5 ACME ; thread ; 1 ; thread:1 1/4-5 ACME major=5/4 pitch=1/5 tap-drill=21/20
1-5 ACME-2G ; thread ; 1 ; thread:1-5 ACME-2G major=1 pitch=1/5 tap-drill=4/5
cap screw 1/4 ; hole ; 1 ; diameter=9/32 through counterbore-diameter=7/16 counterbore-depth=1/4
CAP SCREW 3/8 close ; hole ; 1 ; diameter=25/64 through counterbore-diameter=5/8 counterbore-depth=3/8
clearance 1/2 loose ; hole ; 1 ; diameter=39/64 through
R.06 ; radius ; 1 ; radius=3/50
rounds R.06 ; round ; 1 ; radius=3/50
2x .0625 × 45° ; chamfer ; 2 ; leg=1/16 angle=45
1/16 x 45° chamfer ; chamfer ; 1 ; leg=1/16 angle=45
8 thou ; length ; 1 ; length=1/125
3' 4 1/2" ; length ; 1 ; length=81/2
HEX 3/4 AF ; polygon ; 1 ; across-flats=3/4 sides=6
keyway 3/16 x 3/32 ; keyway ; 1 ; width=3/16 depth=3/32
slot .25 x 1.125 ; slot ; 1 ; width=1/4 length=9/8
groove .125 x ⌀1.375 ; groove ; 1 ; width=1/8 diameter=11/8
25.4 mm ; length ; 1 ; length=1
⌀12 mm THRU ; hole ; 1 ; diameter=60/127 through
4x ⌀.25 THRU [in] ; hole ; 4 ; diameter=1/4 through
"""
