//! One habit of typing each.

/// (the sheet as typed, as printed, errors)
pub const HABITS: [(&str, &str, usize); 18] = [
    (
        r#"Partner WOD, 25min cap, one works one rests
100 wall balls 9/6
20 rope climbs"#,
        r#"# workout cap 25:00
pairs, one works
for time
100 wall ball 9/6 kg
20 rope climb"#,
        0,
    ),
    (
        r#"21-15-9
Deadlift 100/70kg
HSPU
15 mins"#,
        r#"# workout cap 15:00
21-15-9 for time
deadlift 100/70 kg
handstand push-up"#,
        0,
    ),
    (
        r#"Min 1: 12/10 cal row
Min 2: 10 box jumps
x 5 rounds (20 min)"#,
        r#"# workout
every 1:00 x 10, alternating
12/10 cal row
10 box jump"#,
        0,
    ),
    (
        r#"15min to find 1RM power clean"#,
        r#"# strength
power clean build to 1rm in 15:00"#,
        0,
    ),
    (
        r#"Front squat
warm up sets, then
5 @ 70%
5 @ 75%
5+ @ 80%"#,
        r#"message: warm up sets, then

# strength
front squat 3 x 5 @ 70-75-80% (5+: as many as are good)"#,
        0,
    ),
    (
        r#"In 12 minutes, as far as possible: 3 thrusters 43/29, 3 c2b, 6 thrusters, 6 c2b"#,
        r#"# workout
amrap 12:00
3 thruster 43/29 kg
3 chest-to-bar pull-up
6 thruster 43/29 kg
6 chest-to-bar pull-up"#,
        0,
    ),
    (
        r#"4 x 500m row, rest 2 min between"#,
        r#"# workout
4 rounds for time
500 m row
rest 2:00"#,
        0,
    ),
    (
        r#"chipper, 18 min
50 wall balls 9/6
40 box jumps
30 t2b"#,
        r#"# workout 18:00
for time
50 wall ball 9/6 kg
40 box jump
30 toes to bar"#,
        0,
    ),
    (
        r#"12 min amrap
10 goblet squats 24/16 (Rx+ 32/24)
10 burpees"#,
        r#"# workout
amrap 12:00
10 goblet squat 24/16 kg (heavier: 32/24 kg)
10 burpee"#,
        0,
    ),
    (
        r#"3 power cleans 60/40
E2MOM x 6"#,
        r#"# workout
every 2:00 x 6
3 power clean 60/40 kg"#,
        0,
    ),
    (
        r#"E90S x 8: 1 hang power clean + 1 push jerk @ 70%"#,
        r#"# workout
every 1:30 x 8
1 hang power clean @ 70%
1 push jerk @ 70%"#,
        0,
    ),
    (
        r#"Every 5 mins x 4 rounds
400m run
15 OHS 43/30
max burpees in the time left (rest 1 min)"#,
        r#"# workout
every 5:00 x 4
400 m run
15 overhead squat 43/30 kg
max burpee (in the time left)
rest 1:00"#,
        0,
    ),
    (
        r#"metcon: 4 min on 2 min off x 4
14/10 cal bike
14 box jump overs
AMRAP thrusters @ 35/25 in remaining time"#,
        r#"# workout
intervals 4:00 on / 2:00 off x 4
14/10 cal air bike
14 box jump-over
max thruster 35/25 kg (in remaining time)"#,
        0,
    ),
    (
        r#"3-6-9-12-15-18... AMRAP 10 min
db thrusters 15/10
toes to bar"#,
        r#"# workout
amrap 10:00
3 dumbbell thruster 15/10 kg, +3 each round
3 toes to bar, +3 each round"#,
        0,
    ),
    (
        r#"5 rounds, 1 min each station, 1 min rest between rounds
wall ball
push press 35/25
row (cals)"#,
        r#"# workout
stations 1:00 on / 0:00 off, 5 rounds
max wall ball
max push press 35/25 kg
max cal row
rest 1:00"#,
        0,
    ),
    (
        r#"3 sets not for time: 8/8 KB windmill light, 10 cossack squats, 30s/side plank"#,
        r#"# workout
3 rounds for quality
8 kettlebell windmill light, each side
10 cossack squat
30 s plank, each side"#,
        0,
    ),
    (
        r#"Warmup
2 min bike
10 pvc pass through
10 air squat

Power snatch
every 2 min x 5: 2 power snatch + 1 ohs @ 70%"#,
        r#"# warm-up
for quality
120 s air bike
10 air squat
note: 10 pvc pass through

# strength
every 2:00 x 5
2 power snatch @ 70%
1 overhead squat @ 70%"#,
        0,
    ),
    (
        r#"3 rft: 20m sandbag carries 40kg, 10 burpees"#,
        r#"# workout
3 rounds for time
20 m sandbag carry 40 kg
10 burpee"#,
        0,
    ),
];
