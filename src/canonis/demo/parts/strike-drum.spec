number: WB-1203
owner: Wharf Bell Clockworks
title: Strike-train drum
unit: mm
style: iso
material: brass
limits: middle
general: ISO 2768-m
[characteristics]
1 | sheet 1 front | ⌀120
2 | sheet 1 front | 40
3 | sheet 1 front | ⌀60
4 | sheet 1 front | 20
5 | sheet 1 front | ⌀25
6 | sheet 1 top | 8
7 | sheet 1 top | 28.3
8 | sheet 1 front | 6
9 | sheet 1 front | 5
10 | sheet 1 top | 8x ⌀8 THRU ON ⌀90 PCD
11 | sheet 1 top | 2x ⌀6.6 THRU ⌴⌀12 ↧7
12 | sheet 1 top | 44
13 | sheet 1 front | 2x 2 × 45°
14 | sheet 1 front | groove: 17 FROM BOTTOM
[checkpoints]
blank | 3845.3 g | 0.00, 0.00, 20.00 | 0,0,0
hub | 4326.0 g | 0.00, 0.00, 23.33 | 0,0,0
bore | 4075.6 g | 0.00, 0.00, 22.92 | 0,0,0
keyway | 4061.3 g | -0.05, 0.00, 22.90 | 0,0,0
rope groove | 3969.2 g | -0.05, 0.00, 22.97 | 0,0,0
pin hole | 3952.1 g | -0.25, 0.00, 22.98 | 0,0,0
pin ring | 3832.4 g | -0.24, 0.07, 23.07 | 0,0,0
screw holes | 3788.1 g | -0.24, 0.07, 22.93 | 0,0,0
edges | 3775.5 g | -0.24, 0.07, 22.94 | 0,0,0
