number: WB-1204
owner: Wharf Bell Clockworks
title: Valve block
unit: in
style: asme
material: aluminium 6061
limits: middle
general: .X ±.03  .XX ±.01  .XXX ±.005  .XXXX ±.002
[characteristics]
1 | sheet 1 front | 2 7/8
2 | sheet 1 top | 1.625
3 | sheet 1 front | 1.125
4 | sheet 1 top | 4x ⌀.265 THRU ⌴⌀.438 ↧.250
5 | sheet 1 top | 1.375
6 | sheet 1 top | .875
7 | sheet 1 top | .375
8 | sheet 1 top | 2x ⌀.201 ↧.500
9 | sheet 1 top | 3/4
10 | sheet 1 top | 2.500
11 | sheet 1 top | ⌀.625 ↧.3125
12 | sheet 1 top | 1.0625
13 | sheet 1 left | ⌀.312 ↧2.250
14 | sheet 1 left | .375
15 | sheet 1 left | .8125
16 | sheet 1 front | 2x ⌀.257 THRU
17 | sheet 1 front | .625
18 | sheet 1 front | .750
19 | sheet 1 front | 2.125
20 | sheet 1 front | 2x .0625 × 45°
21 | sheet 1 front | step height: .625
[checkpoints]
finished | 173.6 g | 1.3254, 0.8210, 0.5062 | 0,0,0
