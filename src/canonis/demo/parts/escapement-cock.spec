number: WB-1202
owner: Wharf Bell Clockworks
title: Escapement cock
unit: mm
style: iso
material: brass
limits: middle
general: ISO 2768-m
[characteristics]
1 | sheet 1 front | 96
2 | sheet 1 top | 40
3 | sheet 1 front | 70
4 | sheet 1 front | 12
5 | sheet 1 top | 4x ⌀6.6 THRU ⌴⌀11 ↧6.5
6 | sheet 1 top | 76
7 | sheet 1 top | 20
8 | sheet 1 top | 2x ⌀5 ↧8
9 | sheet 1 top | 52
10 | sheet 1 top | SLOT 8 WIDE THRU 14 CENTRES
11 | sheet 1 top | 12
12 | sheet 1 front | ⌀12 THRU ⌵⌀16 × 90°
13 | sheet 1 front | 48
14 | sheet 1 front | 52
15 | sheet 1 front | 4x ⌀3.3 THRU EQ SP ON ⌀20 PCD
16 | sheet 1 front | R18
17 | sheet 1 front | 36
18 | sheet 1 side | 10
19 | sheet 1 side | R3
20 | sheet 1 top | 4x R5
[checkpoints]
finished | 495.7 g | 48.00, 24.90, 15.80 | 0,0,0
