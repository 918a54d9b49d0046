//! Whole days as coaches typed them.

/// (the sheet as typed, as printed, errors)
pub const SHEETS: [(&str, &str, usize); 18] = [
    (
        r#"Sat 28 Nov - long one, bring water!
Class is full, please cancel if you're not coming.

Warmup 8 mins coach led
2 rounds: 200m row, 10 good mornings, 10 scap pulls, 5 inchworms

Then we lift: bench press 4x6 building, last one heavy but clean. Rest 2 mins.

Workout (25 min cap)
3 rounds
500m row
20 burpees
15 hang power cleans @ 50/35
Scale the bar so you never do less than 5 at once.

Cooldown - stretch, chat."#,
        r#"message: Sat 28 Nov - long one, bring water!
message: Class is full, please cancel if you're not coming.
message: Scale the bar so you never do less than 5 at once.

# warm-up
2 rounds for quality
200 m row
10 good morning
5 inchworm
note: 8 mins coach led
note: 10 scap pulls

# strength
bench press 4 x 6, rest 2:00, add weight

# workout cap 25:00
3 rounds for time
500 m row
20 burpee
15 hang power clean 50/35 kg

# cool-down"#,
        0,
    ),
    (
        r#"Deadlift day!!
Deadlift
5 @ 60%
5 @ 70%
3 @ 80%
3 @ 85%
3 @ 85%

10 min AMRAP
10 deadlift 100/70kg
15 push ups
20 squats

goal 5+ rounds"#,
        r#"message: Deadlift day!!

# strength
deadlift 5-5-3-3-3 @ 60-70-80-85-85%

# workout target 5+ rounds
amrap 10:00
10 deadlift 100/70 kg
15 push-up
20 air squat"#,
        0,
    ),
    (
        r#"WOD
TC: 12:00
50-40-30-20-10
double unders
sit-ups

Level 2: single unders x2
Level 1: single unders, 25-20-15-10-5 sit-ups"#,
        r#"# workout cap 12:00
50-40-30-20-10 for time
double-under
sit-up"#,
        0,
    ),
    (
        r#"STR: Push press 5-5-3-3-1-1 (climb)
MET: 5RFT // 400m run // 15 OHS (42,5/30) // TC 18
ACC: 3 sets - 12 banded face pulls + 12 hammer curls"#,
        r#"# strength
push press 5-5-3-3-1-1, add weight

# workout cap 18:00
5 rounds for time
400 m run
15 overhead squat 42.5/30 kg

# accessory
for quality
12 band face pull
12 dumbbell hammer curl (sets)"#,
        0,
    ),
    (
        r#"Strength (20 min)
A. Back squat 3 sets of 8, RPE 7, 2-3 min between sets
B. Single-leg RDL 3x8/side w/ kettlebell

Conditioning (15 min)
"Min 1": 12 cal ski
"Min 2": 15 KB swings (24/16)
"Min 3": rest
x5"#,
        r#"# strength 20:00
back squat 3 x 8, rest 3:00 (RPE 7)

# accessory
single-leg dumbbell deadlift 3 x 8, each side (w kettlebell)

# workout 15:00
every 1:00 x 15, alternating
minute 1: 12 cal ski machine
minute 2: 15 overhead kettlebell swing 24/16 kg
minute 3: rest 1:00"#,
        0,
    ),
    (
        r#"1) Warm up: easy row 3 mins, then 2 rds of 10 air squats/10 push ups/10 ring rows
2) Skill: 10 min handstand practice
3) 21-15-9 power snatch (40/30) + bar facing burpees. cap is 10 min. Target sub 8
4) Stretch"#,
        r#"# warm-up
for quality
180 s row
then
2 rounds for quality
10 air squat
10 push-up
10 ring row

# skill
for quality
600 s handstand hold

# workout cap 10:00 target under 8:00
21-15-9 for time
power snatch 40/30 kg
burpee over bar

# cool-down"#,
        0,
    ),
    (
        r#"Buy in: 1000m row
then 3 rounds of:
  12 thrusters 43/30
  12 chest to bar
then 1000m row
cap 22"#,
        r#"# workout cap 22:00
3 rounds for time
12 thruster 43/30 kg
12 chest-to-bar pull-up
buy-in: 1000 m row
then
for time
1000 m row"#,
        0,
    ),
    (
        r#"E3MOM x 5
 - 3 front squats (80%)
 - 10 box jumps 60/50
 - 10 cal row
[no rower -> 200m run]"#,
        r#"# workout
every 3:00 x 5
3 front squat @ 80%
10 box jump 60/50 cm
10 cal row
no rower: 200 m run"#,
        0,
    ),
    (
        r#"Part A
Build to a heavy single clean & jerk, 15 min
Part B
2 rounds
1 min max cal row
1 min max wall ball (9/6)
1 min max cal bike
1 min max DB snatch (22.5/15)
1 min rest
Score total reps"#,
        r#"# strength
clean and jerk build to 1rm in 15:00

# workout
stations 1:00 on / 0:00 off, 2 rounds
max cal row
max wall ball 9/6 kg
max cal air bike
max dumbbell snatch 22.5/15 kg
rest 1:00
score: reps"#,
        0,
    ),
    (
        r#"10 x 100m sprint, walk back recovery
3 rounds: 50m farmers carry 2x24/16, 50m bear crawl, 50m sandbag carry (50/30)
no rush."#,
        r#"message: no rush.

# workout
for time
1000 m run (walk back recovery)
then
3 rounds for time
50 m farmer carry 24/16 kg
50 m bear crawl
50 m sandbag carry 50/30 kg"#,
        0,
    ),
    (
        r#"Monday
Warm-up (10)
3 rounds easy: 1 min bike, 10 pvc pass throughs, 10 air squats, 5 burpees

Strength (20) - Back squat
Week 2: 4 sets of 5 @ 75-80%, 2:30 between sets

WOD (15) - "Rusty Anchor"
AMRAP 12
12 cal row
9 deadlifts @ 80/55
6 bar facing burpees
Looking for 4-6 rounds"#,
        r#"title: Monday

# warm-up
3 rounds for quality
60 s air bike
10 air squat
5 burpee
note: 10 pvc pass throughs

# strength
back squat 4 x 5 @ 75-80%, rest 2:30

# workout "Rusty Anchor" target 4-6 rounds
amrap 12:00
12 cal row
9 deadlift 80/55 kg
6 burpee over bar"#,
        0,
    ),
    (
        r#"💪 STRENGTH 💪
Clean + FS + jerk
Every 2' x 7 building

🔥 METCON 🔥
For time (12' cap)
30 wall balls (9/6)
20 C&J (50/35)
30 wall balls"#,
        r#"# strength
squat clean + front squat + split jerk 7 x 1, every 2:00, build

# workout cap 12:00
for time
30 wall ball 9/6 kg
20 clean and jerk 50/35 kg
30 wall ball 9/6 kg"#,
        0,
    ),
    (
        r#"Warmup: 400m jog, leg swings, 2x8 goblet squats
Main: 6 rounds of
 6 power snatch (45/30kg)
 6 overhead squat (45/30kg)
 12 pull-ups
 every round must be under 3 minutes
Extra: 3x12 curls"#,
        r#"message: every round must be under 3 minutes

# warm-up
for quality
400 m run (leg swings)
16 goblet squat

# workout
6 rounds for time
6 power snatch 45/30 kg
6 overhead squat 45/30 kg
12 pull-up

# accessory
dumbbell curl 3 x 12"#,
        0,
    ),
    (
        r#"Race style? no, just long:
1000m ski
100m sled push
80m burpee broad jumps
1000m row
200m farmers carry 2x24/16
100m lunges w/ sandbag 20/10
75 wall balls
40 min cap, share in pairs"#,
        r#"title: Race style? no, just long

# workout cap 40:00
pairs, share the reps
for time
1000 m ski machine
100 m sled push
80 m burpee broad jump
1000 m row
200 m farmer carry 24/16 kg
100 m lunge (20/10 w sandbag)
75 wall ball"#,
        0,
    ),
    (
        r#"Gym closed tomorrow!!

Today:
tempo back squat 32X1, 4x5 @ 65%
superset w/ 4x10 hamstring curls

4 rounds for quality
20m handstand walk (or 3 wall walks)
10 pistols
15 v-ups"#,
        r#"message: Gym closed tomorrow!!
message: Today:

# strength
back squat 4 x 5 @ 65%, tempo 3-2-X-1

# accessory
sliding hamstring curl 4 x 10
4 rounds for quality
20 m handstand walk
10 pistol squat
15 v-up"#,
        0,
    ),
    (
        r#"0:00-10:00 warm up
10:00-25:00 power clean, find a heavy double
30:00-45:00 15 min amrap: 5 power cleans @ 70% of that, 10 hspu, 15 cal bike"#,
        r#"# warm-up 10:00

# strength
power clean build to 2rm in 15:00

# workout 15:00
amrap 15:00
5 power clean @ 70%
10 handstand push-up
15 cal air bike"#,
        0,
    ),
    (
        r#"For Time:
30-20-10
Hang power snatches (35/25)
Lateral burpees over bar
*every time you break the bar: 5 pull-ups
Goal: sub 9. Cap: 13."#,
        r#"# workout cap 13:00 target under 9:00
30-20-10 for time
hang power snatch 35/25 kg
burpee over bar
on every break: 5 pull-up"#,
        0,
    ),
    (
        r#"Bench press 3x10 @60kg/35kg
Bent over row 3x10
Then AMRAP 10 with partner (I go you go): 5 db snatch, 5 burpee over db, 5 goblet squats 22.5/15"#,
        r#"# strength
bench press 3 x 10 @ 60/35 kg
bent-over row 3 x 10

# workout
pairs, alternate rounds
amrap 10:00
5 dumbbell snatch
5 burpee over dumbbell
5 goblet squat 22.5/15 kg"#,
        0,
    ),
];
