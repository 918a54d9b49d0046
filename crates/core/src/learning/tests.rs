//! Laws of learning, figures by hand, and a small world of its own in which it must help.

use super::params::*;
use super::*;
use chrono::NaiveDate;
use proptest::prelude::*;
use rand::SeedableRng;
use rand_distr::{Distribution, StandardNormal};
use rand_pcg::Pcg64Mcg;

fn day(n: u64) -> NaiveDate {
    NaiveDate::from_ymd_opt(2026, 9, 1).unwrap() + chrono::Days::new(n)
}

fn base(format: Format, group: Group) -> Foretold {
    Foretold { middle: 600.0, better: 0.2, worse: 0.25, format, group }
}

fn seen(member: &str, late: f64) -> Seen {
    let foretold = base(Format::Rounds, Group::Legs);
    Seen { of: String::new(), member: member.to_owned(), foretold, late, capped: false, left_out: false }
}

fn held(n: u64, results: Vec<Seen>) -> Held {
    Held { date: day(n), results }
}

fn shift(l: &Learner, member: &str) -> Shift {
    l.of(member, day(0)).unwrap().shift(&base(Format::Rounds, Group::Legs)).unwrap()
}

#[test]
fn one_result_moves_a_forecast_by_its_share_of_the_variance() {
    let mut l = Learner::new(Vec::new());
    let pulls = l.learn(&held(0, vec![seen("a", -0.2)]));
    // first variance .12² + .16² + .10² + .06² + .15² + .12² = .0905; noise .13² (.225 / .13)^.8 = .0262
    let (first, noise) = (0.0905, 0.13f64.powi(2) * (0.225f64 / 0.13).powf(0.8));
    // the class's own share, .16² of it, is gone with the class
    let moved = -0.2 * (first - 0.0256) / (first + noise);
    assert!((shift(&l, "a").late - moved).abs() < 1e-6, "{:?} {moved}", shift(&l, "a"));
    assert!((pulls[0].moved - moved).abs() < 1e-9 && (pulls[0].surprise + 0.2).abs() < 1e-12);
    // sds on the better side: .2 / .2
    assert!((pulls[0].sds + 1.0).abs() < 1e-9 && pulls[0].unlearnt.is_none());
    // who was not there moves with the hall, format and group only
    let shared = -0.2 * (0.0144 + 0.01 + 0.0036) / (first + noise);
    assert!((shift(&l, "b").late - shared).abs() < 1e-6);
}

#[test]
fn a_slow_result_moves_its_member_by_less_than_a_quick_one() {
    let of = |late: f64| {
        let mut l = Learner::new(Vec::new());
        // five others as foretold, so that the class shares nothing
        let mut all: Vec<Seen> = (0..5).map(|i| seen(&format!("o{i}"), 0.0)).collect();
        all.push(seen("a", late));
        l.learn(&held(0, all));
        shift(&l, "a").late - shift(&l, "nobody").late
    };
    let (slow, quick) = (of(0.2), of(-0.2));
    assert!(slow > 0.0 && quick < 0.0);
    assert!((slow / -quick - SLOW_COUNTS).abs() < 0.02, "{slow} {quick}");
}

#[test]
fn what_teaches_nothing_says_why() {
    let mut l = Learner::new(Vec::new());
    let far = seen("far", 1.1);
    let out = Seen { left_out: true, ..seen("out", -0.3) };
    let capped = Seen { capped: true, ..seen("cap", -0.1) };
    let none =
        Seen { foretold: Foretold { middle: f64::INFINITY, ..seen("x", 0.0).foretold }, ..seen("none", 0.1) };
    let pulls = l.learn(&held(0, vec![far, out, capped, none]));
    let why: Vec<Option<Unlearnt>> = pulls.iter().map(|p| p.unlearnt).collect();
    let all = [Unlearnt::TooFar, Unlearnt::LeftOut, Unlearnt::AtCap, Unlearnt::NoForecast].map(Some);
    assert_eq!(why, all);
    assert!(l.of("far", day(1)).is_none() && l.results() == 0, "no result: as before any");
    assert!(pulls.iter().all(|p| p.moved == 0.0));
}

#[test]
fn a_cap_before_which_more_was_expected_teaches_that_it_was_later() {
    let mut l = Learner::new(Vec::new());
    let at_cap = Seen { capped: true, ..seen("a", 0.3) };
    l.learn(&held(0, vec![at_cap]));
    let mut plain = Learner::new(Vec::new());
    plain.learn(&held(0, vec![seen("a", 0.3)]));
    assert!(shift(&l, "a").late > 0.0 && shift(&l, "a").late < shift(&plain, "a").late);
}

#[test]
fn a_test_halves_what_was_learnt_of_its_ability_and_time_away_makes_less_sure() {
    let learnt = |retests: Vec<Retest>, days: u64| {
        let mut l = Learner::new(retests);
        for i in 0..6 {
            l.learn(&held(i, vec![seen("a", -0.3), seen("b", 0.0), seen("c", 0.0)]));
        }
        let before = shift(&l, "a");
        l.learn(&held(6 + days, vec![seen("a", before.late)]));
        (before, shift(&l, "a"))
    };
    let (before, same) = learnt(Vec::new(), 0);
    let retest = Retest { member: "a".into(), date: day(6), group: Group::Legs };
    let (_, tested) = learnt(vec![retest], 1);
    assert!(before.late < -0.05 && tested.late > same.late + 0.01, "{before:?} {same:?} {tested:?}");
    assert!(tested.width > same.width);
    assert!(learnt(Vec::new(), 20).1.width > same.width, "two weeks away");
}

#[test]
fn a_test_and_time_away_count_on_the_day_not_with_the_next_result() {
    let retest = Retest { member: "a".into(), date: day(8), group: Group::Legs };
    let mut l = Learner::new(vec![retest]);
    for i in 0..6 {
        l.learn(&held(i, vec![seen("a", -0.3), seen("b", 0.0), seen("c", 0.0)]));
    }
    let on = |member: &str, n: u64| {
        l.of(member, day(n)).unwrap().shift(&base(Format::Rounds, Group::Legs)).unwrap()
    };
    // before the test as learnt; from its day on half of what is theirs in it, and less sure
    assert_eq!(on("a", 7), on("a", 6));
    assert!(on("a", 8).late > on("a", 7).late + 0.01 && on("a", 8).width > on("a", 7).width);
    assert_eq!(on("b", 8), on("b", 7), "nobody else was tested");
    // the last class was on day 5
    assert_eq!(on("b", 18), on("b", 7));
    assert!(on("b", 19).width > on("b", 18).width && on("b", 19).late == on("b", 18).late);
}

#[test]
fn a_forecast_is_from_results_only_with_enough_of_them() {
    let mut l = Learner::new(Vec::new());
    for i in 0..2 {
        l.learn(&held(i, vec![seen("a", -0.1)]));
    }
    assert!(!shift(&l, "a").from_results());
    for i in 2..8 {
        l.learn(&held(i, vec![seen("a", -0.1)]));
    }
    assert!(shift(&l, "a").from_results() && !shift(&l, "b").from_results());
    let words = member_words(&l.of("a", day(8)).unwrap()).unwrap();
    assert!(words.starts_with("Since 1 September, 8 results: about "), "{words}");
    assert!(
        words.contains(
            "% faster than I first think in rounds against the clock where legs limits. Ranges were ±"
        ),
        "{words}"
    );
    assert!(member_words(&l.of("b", day(8)).unwrap()).is_none(), "nothing of their own");
}

#[test]
fn a_moved_score_keeps_its_order_and_ends() {
    let s = Shift { late: 0.1, width: 0.5, results: 4 };
    // the middle is 10 % later in logarithms, a score e^.2 beyond it is half as far
    assert!((s.moved(600.0, 600.0, true) - 663.10).abs() < 0.01);
    assert!((s.moved(732.84, 600.0, true) - 732.84).abs() < 0.01);
    // fewer rounds where less is worse
    assert!((s.moved(6.0, 6.0, false) - 5.429).abs() < 0.001);
    assert!(s.moved(f64::INFINITY, 600.0, true).is_infinite());
    assert_eq!(s.moved(0.0, 6.0, false), 0.0);
}

#[test]
fn a_result_far_from_everything_is_asked_about() {
    // e^(3 x .2 / 1.2816) of the middle to one side is three sds where the range ends e^.2 from it
    let range = [491.2, 600.0, 732.8];
    assert!(asked(range, 600.0, true).is_none() && asked(range, 950.0, true).is_none());
    assert!(asked(range, 970.0, true).unwrap().starts_with("Far slower than any run I made"));
    assert!(asked(range, 370.0, true).unwrap().contains("faster"));
    let rounds = [5.0, 6.0, 7.0];
    assert!(
        asked(rounds, 1.0, false).unwrap().contains("less")
            && asked(rounds, 9.0, false).unwrap().contains("more")
    );
    assert!(asked(rounds, 0.0, false).is_none(), "nothing done says nothing");
    assert!(
        asked([5.0, 5.0, 5.0], 5.4, false).is_none(),
        "whole figures without a width are coarse, not sure"
    );
}

#[test]
fn lateness_is_positive_for_what_is_worse() {
    let b = base(Format::Open, Group::Pull);
    assert!((late(&b, 660.0, true).unwrap() - 0.0953).abs() < 1e-4);
    assert!((late(&b, 660.0, false).unwrap() + 0.0953).abs() < 1e-4);
    assert_eq!(late(&b, 0.0, true), None);
    assert_eq!(late(&b, 1e9, true), Some(MOST_LATE));
}

/// A hall that is 15 % slow, members of their own, classes of their own, noise: other laws than the learner's sums.
struct World {
    rng: Pcg64Mcg,
    members: Vec<f64>,
}

impl World {
    fn new(seed: u64, members: usize) -> World {
        let mut w = World { rng: Pcg64Mcg::seed_from_u64(seed), members: Vec::new() };
        w.members = (0..members).map(|_| 0.1 * w.normal()).collect();
        w
    }

    fn normal(&mut self) -> f64 {
        StandardNormal.sample(&mut self.rng)
    }

    /// The results of a class; how many members hold back in half of theirs.
    fn class(&mut self, n: u64, holding_back: usize) -> Held {
        let class = 0.06 * self.normal();
        let format = Format::ALL[(n % 4) as usize];
        let results = (0..self.members.len())
            .map(|i| {
                let group = Group::ALL[i % 3];
                let held = if i < holding_back && self.normal() > 0.0 { 0.3 } else { 0.0 };
                let late = 0.15 + self.members[i] + class + held + 0.12 * self.normal();
                Seen { foretold: base(format, group), ..seen(&format!("m{i}"), late) }
            })
            .collect();
        held(n * 2, results)
    }

    /// Share of the results of more classes that lie in their ranges, the mean half width, and the mean signed miss.
    fn judged(&mut self, l: &Learner, from: u64) -> (f64, f64, f64) {
        let (mut inside, mut width, mut miss, mut n) = (0.0, 0.0, 0.0, 0.0);
        for k in from..from + 10 {
            for r in self.class(k, 0).results {
                let s = l.of(&r.member, day(0)).and_then(|x| x.shift(&r.foretold));
                let (late, by) = s.map_or((0.0, 1.0), |s| (s.late, s.width));
                let off = r.late - late;
                let end = 1.2816 * by * r.foretold.side(off);
                inside += f64::from(u8::from(off.abs() <= end));
                width += 0.5 * 1.2816 * by * (r.foretold.better + r.foretold.worse);
                miss += off;
                n += 1.0;
            }
        }
        (inside / n, width / n, miss / n)
    }
}

#[test]
fn in_a_world_of_other_laws_ranges_move_and_narrow_and_still_hold() {
    let (mut before, mut after) = ((0.0, 0.0, 0.0), (0.0, 0.0, 0.0));
    let add = |a: &mut (f64, f64, f64), b: (f64, f64, f64)| {
        *a = (a.0 + b.0 / 4.0, a.1 + b.1 / 4.0, a.2 + b.2 / 4.0)
    };
    for seed in 0..4 {
        let mut world = World::new(seed, 16);
        let mut l = Learner::new(Vec::new());
        add(&mut before, world.judged(&l, 40));
        for n in 0..20 {
            l.learn(&world.class(n, 0));
        }
        add(&mut after, world.judged(&l, 40));
    }
    assert!(before.2 > 0.1 && after.2.abs() < 0.04, "moved: {before:?} {after:?}");
    assert!(after.1 < 0.9 * before.1, "narrower: {before:?} {after:?}");
    assert!((0.75..=0.93).contains(&after.0), "and holds: {after:?}");
}

#[test]
fn wrong_logs_widen_little_and_who_holds_back_is_still_foretold() {
    let mut world = World::new(9, 16);
    let (mut clean, mut wrong, mut held_back) = (Learner::default(), Learner::default(), Learner::default());
    let mut slips = Pcg64Mcg::seed_from_u64(3);
    for n in 0..20 {
        let class = world.class(n, 0);
        clean.learn(&class);
        let mut typed = class.clone();
        for r in &mut typed.results {
            let u: f64 = rand::Rng::random(&mut slips);
            r.late += if u < 0.075 {
                0.5
            } else if u < 0.15 {
                -0.5
            } else {
                0.0
            };
        }
        wrong.learn(&typed);
        held_back.learn(&world.class(n, 3));
    }
    let (c, w) = (world.judged(&clean, 40), world.judged(&wrong, 40));
    assert!(w.1 < 1.2 * c.1 && w.0 > c.0 - 0.05, "{c:?} {w:?}");
    let (mut inside, mut n) = (0, 0);
    for k in 40..60 {
        for r in world.class(k, 0).results.iter().take(3) {
            let s = shift_of(&held_back, r);
            let off = r.late - s.late;
            inside += i32::from(off.abs() <= 1.2816 * s.width * r.foretold.side(off));
            n += 1;
        }
    }
    assert!(f64::from(inside) / f64::from(n) >= 0.65, "{inside} of {n}");
}

fn shift_of(l: &Learner, r: &Seen) -> Shift {
    l.of(&r.member, day(0)).unwrap().shift(&r.foretold).unwrap()
}

fn log() -> impl Strategy<Value = Vec<Held>> {
    let result = (0usize..5, -0.6f64..0.6, 0usize..6, 0usize..7, any::<bool>());
    prop::collection::vec(prop::collection::vec(result, 0..6), 0..8).prop_map(|classes| {
        let one = |(member, late, format, group, capped): (usize, f64, usize, usize, bool)| Seen {
            foretold: base(Format::ALL[format], Group::ALL[group]),
            capped,
            ..seen(&format!("m{member}"), late)
        };
        let class = |(i, c): (usize, Vec<_>)| {
            // one result a member
            let mut all: Vec<Seen> = c.into_iter().map(one).collect();
            all.sort_by(|a, b| a.member.cmp(&b.member));
            all.dedup_by(|a, b| a.member == b.member);
            held(3 * i as u64, all)
        };
        classes.into_iter().enumerate().map(class).collect()
    })
}

fn near(a: &Learner, b: &Learner) -> bool {
    (0..6).all(|i| match (a.of(&format!("m{i}"), day(22)), b.of(&format!("m{i}"), day(22))) {
        (None, None) => true,
        (Some(x), Some(y)) => {
            // what is kept is rounded to a millionth
            let close =
                |(p, q): (&[f64; 2], &[f64; 2])| (p[0] - q[0]).abs() < 3e-6 && (p[1] - q[1]).abs() < 3e-6;
            x.results == y.results && x.known.iter().zip(&y.known).all(close)
        }
        _ => false,
    })
}

proptest! {
    #[test]
    fn a_replay_is_what_was_learnt_step_by_step(log in log()) {
        let mut step = Learner::new(Vec::new());
        log.iter().for_each(|h| { step.learn(h); });
        prop_assert!(near(&step, &Learner::of_log(&log, Vec::new(), day(200))));
    }

    #[test]
    fn the_order_of_results_in_a_class_changes_nothing(log in log()) {
        let turned: Vec<Held> = log
            .iter()
            .map(|h| Held { date: h.date, results: h.results.iter().rev().cloned().collect() })
            .collect();
        let of = |log: &[Held]| Learner::of_log(log, Vec::new(), day(200));
        prop_assert!(near(&of(&log), &of(&turned)));
    }

    #[test]
    fn a_result_that_is_left_out_was_never_seen(log in log(), at in 0usize..40) {
        let mut with = log.clone();
        let mut without = log.clone();
        let places: Vec<(usize, usize)> = log
            .iter()
            .enumerate()
            .flat_map(|(c, h)| (0..h.results.len()).map(move |r| (c, r)))
            .collect();
        prop_assume!(!places.is_empty());
        let (c, r) = places[at % places.len()];
        with[c].results[r].left_out = true;
        // the class was held all the same
        without[c].results.remove(r);
        let of = |log: &[Held]| Learner::of_log(log, Vec::new(), day(200));
        let (a, b) = (of(&with), of(&without));
        prop_assert!(with[c].results.len() == 1 || near(&a, &b));
    }

    #[test]
    fn variances_stay_variances_and_moves_stay_bounded(log in log()) {
        let l = Learner::of_log(&log, Vec::new(), day(200));
        for i in 0..6 {
            for k in l.of(&format!("m{i}"), day(200)).iter().flat_map(|x| &x.known) {
                let [late, variance] = *k;
                prop_assert!(variance > 0.0 && variance < 0.15 && late.abs() < 1.2, "{:?}", k);
            }
        }
    }

    #[test]
    fn a_year_later_nothing_is_left(log in log()) {
        let l = Learner::of_log(&log, Vec::new(), day(365 + 30));
        prop_assert!(l.results() == 0 && l.of("m0", day(400)).is_none());
    }
}
