//! Every constant of the pacing model, in one place. Units: s, kg, m; "es" is an engine second, what an engine
//! of 1 refills in one second. Sources are cited from memory; "own" marks an estimate of ours.

/// s, recovery of a nearly full reserve at rest (phosphocreatine resynthesis, Harris 1976, Bogdanis 1995 give
/// the range; the value is our own).
pub const TAU: f64 = 26.0;
/// Slower from deep: tau (1 + beta (1 - R)) (direction: McMahon & Jenkins 2002; own value).
pub const BETA: f64 = 1.0;
/// Slower when the engine is empty: x (1 + A_TAU (1 - w)) (own).
pub const A_TAU: f64 = 0.3;
/// Share of recovery that goes on during the rep (own).
pub const RHO: f64 = 0.47;
/// Under this reserve a rep costs more (Sanchez-Medina & Gonzalez-Badillo 2011 for the direction; own value).
pub const R_DEEP: f64 = 0.4;
/// ... up to (1 + B_DEEP) x at an empty reserve (own).
pub const B_DEEP: f64 = 2.0;
/// Share of a cost that lowers the ceiling (own).
pub const PHI: f64 = 0.14;
/// s, recovery of the ceiling (own).
pub const TAU_SLOW: f64 = 1800.0;
/// The ceiling saturates here (Amann & Dempsey 2008, critical peripheral fatigue; own value).
pub const C_MIN: f64 = 0.42;
/// Rep slow-down by the reserve: 1 + A_R (1 - R)^2 (own).
pub const A_R: f64 = 0.7;
/// Rep slow-down by the engine: 1 + A_W (1 - w)^2 (own).
pub const A_W: f64 = 0.10;
/// s; the cost of sets longer than this scales with (T_SET / T)^P_SET (own).
pub const T_SET: f64 = 180.0;
/// See [`T_SET`] (own).
pub const P_SET: f64 = 0.45;
/// Runs and machines: local cost relative to what recovers at demand E (own).
pub const A_CYC: f64 = 0.20;
/// Largest demand E (1 + MORT w) (three-parameter critical power, Morton 1996; own value).
pub const MORT: f64 = 4.0;
/// ... on machines within a workout: a pace, not a sprint (own).
pub const MORT_ERG: f64 = 0.7;
/// E(t) = E (1 - FADE ln(1 + (t/T_FADE)^2)) (shape of Riegel 1981; own values).
pub const FADE: f64 = 0.08;
/// s, see [`FADE`].
pub const T_FADE: f64 = 1200.0;
/// A set of a movement that cannot be slowed stops under this engine share (own).
pub const W_LOW: f64 = 0.06;
/// kcal/h on a machine's display at engine demand 1 and 82 kg (own: set by single pieces on machines of 1 to 5 minutes).
pub const K: f64 = 830.0;
/// ... x (mass/82)^K_EXP (own: between allometry, 2/3, and proportion to mass, since machines reward a heavy body).
pub const K_EXP: f64 = 0.8;
/// Share of W' used by an all-out kilometre run (own).
pub const U_RUN: f64 = 0.8;
/// Fastest pace inside workouts over the kilometre test pace (own).
pub const RUN_FLOOR: f64 = 0.85;
/// Cycle x (1 + HEAVY (load/1RM - 0.4)^2) above 0.4 (own).
pub const HEAVY: f64 = 1.0;
/// A movement that nothing but the clock limits goes so much quicker than at the table's natural speed as long as the engine
/// allows it: nobody holds back in a bout of a minute (own: squats, burpees and lunges alone).
pub const FLOWING: f64 = 0.96;
/// s; body weight in sets that are over sooner leaves less to recover from: recovery is (T / T_QUICK)^-P_QUICK times as quick
/// and the ceiling falls as much less, where T is how long the largest fresh set lasts (direction: phosphocreatine falls less in
/// short maximal bouts and comes back sooner, Gaitanos 1993; own values).
pub const T_QUICK: f64 = 180.0;
/// See [`T_QUICK`] (own).
pub const P_QUICK: f64 = 0.4;
/// Above this share of the maximum a lift from the floor that is thrown is dropped and set up again for every rep (own).
pub const DROP_FROM: f64 = 0.5;
/// ... which takes DROP (share - DROP_FROM)^2 times the movement's own time of a single on top (own).
pub const DROP: f64 = 8.0;
/// Reps above this are endurance and scale with E (own).
pub const M_END: f64 = 20.0;
/// No set is longer than this many reps (own).
pub const M_CAP: f64 = 200.0;
/// A pattern factor f acts on the 1RM as f^LAM (own).
pub const LAM: f64 = 0.4;
/// s, a change of movement takes (TRANS + set-up) x the member's factor (own).
pub const TRANS: f64 = 1.2;
/// s, coming back to work that something on the clock interrupts takes so much longer than a change (own: getting up or down,
/// finding the place and the count again).
pub const BACK: f64 = 4.5;
/// s, an unplanned break is longer than a planned one (own).
pub const STALL: f64 = 4.0;
/// Share of scheduled rest usable for spreading effort (own).
pub const ETA: f64 = 0.6;
/// s, a handover between partners (own).
pub const TAG: f64 = 2.0;
/// s; no workout runs longer.
pub const GUARD: f64 = 14_400.0;

/// The machine's display: kcal/h = WATT_KCAL x watts + IDLE_KCAL.
pub const WATT_KCAL: f64 = 3.4416;
/// kcal/h, the cost of moving oneself on a machine.
pub const IDLE_KCAL: f64 = 300.0;
/// watts = WATT_CUBE / (s per m)^3.
pub const WATT_CUBE: f64 = 2.8;

/// Log standard deviations (engine, cycle, pattern) by how well a member is known (own).
pub const SD_TESTED: [f64; 3] = [0.075, 0.06, 0.155];
/// See [`SD_TESTED`].
pub const SD_ESTIMATED: [f64; 3] = [0.09, 0.07, 0.19];
/// See [`SD_TESTED`].
pub const SD_ASSUMED: [f64; 3] = [0.12, 0.08, 0.28];
/// Log sd of W' (own).
pub const S_WP: f64 = 0.20;
/// Log sd of one movement's residual (own).
pub const S_MV: f64 = 0.15;
/// The same of a movement that takes months of practice (own).
pub const S_SKILL: f64 = 0.30;
/// Skill in the catalogue from which a movement takes months (1 anyone on day one .. 5).
pub const SKILLED: u8 = 4;
/// Log sd of the day's engine (own).
pub const DAY_E: f64 = 0.025;
/// Log sd of the day's patterns (own).
pub const DAY_F: f64 = 0.06;
/// Log sd of execution (own).
pub const EXEC: f64 = 0.03;
/// Log sd of the model's own error (own).
pub const MODEL: f64 = 0.185;
/// Log sd of what a whole class shares on a day: heat, how the coach says it, the room (own).
pub const CLASS: f64 = 0.10;
/// What goes wrong on a day (a wait, missed reps, a bad night, a start too fast) makes a result worse and seldom better: the noise
/// is so much narrower than its sd on the better side of the middle (own).
pub const BETTER_SIDE: f64 = 0.65;
/// ... and so much wider on the worse side (own).
pub const WORSE_SIDE: f64 = 1.15;
