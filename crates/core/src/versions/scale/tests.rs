//! What speaks against a version, worked out by hand.

use super::look::{Look, suggest};
use super::personal::Personal;
use super::reason::{begins_at, hindered};
use super::skill::{Doer, missing_lines};
use super::*;
use crate::kinds::Limit;
use crate::kit::Kit;
use crate::loads::Bars;
use crate::pacing::{Athlete, Level, Style};
use crate::reason::{Agreed, Beyond, OfLine};
use crate::roster::{Best, Max, Member, ability};
use crate::settings::Settings;
use crate::sheet::read;
use crate::stimulus::{Stimulus, infer};
use crate::units::{Provenance, Standard};
use crate::versions::predict::{Effort, Prediction, PredictionUnit, predict};
use crate::versions::work::{Tier, Work};
use chrono::NaiveDate;

const TIMED: &str =
    "# workout cap 14:00 target 9:00-12:00\n3 rounds for time\n12 toes-to-bar\n12 power clean 60/42.5 kg";

fn day() -> NaiveDate {
    NaiveDate::from_ymd_opt(2026, 11, 24).unwrap()
}

fn work(text: &str) -> (Work, Stimulus) {
    let block = read(text).sheet.blocks[0].clone();
    let work = Work::from_block(&block).unwrap();
    let stimulus = infer(&block, &work);
    (work, stimulus)
}

/// A time whose middle lies at so many seconds.
fn range(p50: f64) -> Prediction {
    let mut deciles = [p50; 9];
    deciles[0] = p50 - 60.0;
    deciles[8] = p50 + 60.0;
    Prediction {
        unit: PredictionUnit::Seconds,
        deciles,
        on_stimulus: 0.6,
        capped: 0.0,
        steady: None,
        provenance: Provenance::Tested,
        weakest: None,
        scale_this: None,
        foretold: None,
        results: 0,
        moved: false,
    }
}

/// A version that holds: 10:40 in a window of 9:00 to 12:00.
fn look(tier: Tier) -> Look {
    let (work, stimulus) = work(TIMED);
    let bo = ability(&Member::unknown("Bo", Standard::Heavier, Level::Regular), day());
    let effort = Effort { runs: 1, seed: 1, style: Style::Free };
    let mut seen = predict(&work, Standard::Heavier, &bo, &stimulus, effort);
    seen.prediction = range(640.0);
    Look { tier, work, personal: Vec::new(), seen, over: 0, share: 1.0, missing: 0, stimulus }
}

fn own(n: usize) -> Vec<Personal> {
    (0..n).map(|i| Personal::own(i, "ring rows".into(), OfLine::LessOfIt)).collect()
}

#[test]
fn each_thing_that_speaks_against_a_version_is_enough_to_look_lower() {
    assert!(look(Tier::Full).enough());
    let not = |change: fn(&mut Look)| {
        let mut l = look(Tier::Full);
        change(&mut l);
        assert!(!l.enough());
    };
    not(|l| l.seen.prediction.scale_this = Some(Beyond::NeverEnds));
    not(|l| l.seen.prediction.steady = Some(0.49));
    not(|l| l.over = 1);
    not(|l| l.missing = 1);
    not(|l| l.share = 0.84);
    not(|l| l.seen.prediction = range(721.0));
    not(|l| l.seen.prediction.capped = 0.5);
    not(|l| l.personal = own(2));
    // at the very edge it holds
    let mut edge = look(Tier::Full);
    (edge.share, edge.seen.prediction.capped, edge.seen.prediction.steady) = (0.85, 0.49, Some(0.5));
    edge.personal = own(1);
    assert!(edge.enough());
    // early is no reason to go lower
    let mut early = look(Tier::Full);
    early.seen.prediction = range(400.0);
    assert!(early.enough());
}

fn limit(p: Personal) -> Personal {
    let reason = OfLine::NothingSuits { movement: "ring-row".into(), agreed: Agreed::Told };
    Personal { reasons: vec![reason], ..p }
}

#[test]
fn a_weight_of_ones_own_is_no_changed_line_and_base_has_any_weight() {
    let mut l = look(Tier::Full);
    l.personal = (0..4).map(|i| Personal::weight(i, "40 kg".into(), OfLine::LessOfIt)).collect();
    assert!(l.enough());
    let mut base = look(Tier::Base);
    base.share = 0.2;
    base.personal = own(3);
    assert!(base.enough(), "there is nothing below");
    let mut limited = look(Tier::Full);
    limited.personal = own(2).into_iter().map(limit).collect();
    assert!(limited.enough(), "two lines of a limit are still Full");
    limited.personal.push(limit(own(1).remove(0)));
    assert!(!limited.enough(), "three are not");
}

#[test]
fn a_rest_that_is_asked_for_is_mostly_left() {
    let (_, mut stimulus) = work("# workout\nevery 2:00 x 6\n200 m run\n10 air squats");
    stimulus.low = Some(30.0);
    let mut l = look(Tier::Full);
    l.stimulus = stimulus;
    l.seen.prediction.unit = PredictionUnit::Rest;
    // two thirds of 30 s, in nine runs of ten
    l.seen.prediction.deciles = [35.0; 9];
    l.seen.prediction.deciles[0] = 20.11;
    assert!(l.enough());
    l.seen.prediction.deciles[0] = 20.09;
    assert!(!l.enough());
}

#[test]
fn how_far_off_a_version_is_adds_up() {
    // 13:00: the window is 180 s wide and its inner edge 27 s before its end
    let mut l = look(Tier::Trim);
    l.seen.prediction = range(780.0);
    let late = (780.0 - (720.0 - 27.0)) / 180.0;
    assert!((l.off_by() - late).abs() < 1e-9, "{}", l.off_by());
    (l.over, l.missing, l.seen.prediction.capped, l.seen.prediction.steady) = (2, 1, 0.3, Some(0.4));
    l.share = 0.8;
    assert!((l.off_by() - (late + 2.0 + 1.0 + 0.3 + 2.0 * 0.6 + 0.5)).abs() < 1e-9, "{}", l.off_by());
    l.seen.prediction.scale_this = Some(Beyond::NeverEnds);
    assert_eq!(l.off_by(), 40.0);
    let mut early = look(Tier::Trim);
    early.seen.prediction = range(300.0);
    assert_eq!(early.off_by(), 0.0, "who is early is not held back");
}

#[test]
fn the_hardest_that_holds_is_suggested_and_one_above_where_it_is_only_late() {
    let all = || vec![look(Tier::Full), look(Tier::Trim), look(Tier::Base)];
    assert_eq!(suggest(&all()), Tier::Full);
    let mut late = all();
    late[0].seen.prediction = range(721.0);
    // no further from the window than the one that holds: the hardest
    assert_eq!(suggest(&late), Tier::Full);
    late[0].seen.prediction.on_stimulus = 0.59;
    assert_eq!(suggest(&late), Tier::Trim);
    late[0].seen.prediction.on_stimulus = 0.7;
    late[0].seen.prediction.capped = 0.21;
    assert_eq!(suggest(&late), Tier::Trim, "too many would not finish");
    late[0].seen.prediction.capped = 0.2;
    assert_eq!(suggest(&late), Tier::Full);
    // a weight that is a little light must give a tenth more
    late[0].share = 0.76;
    late[0].seen.prediction.on_stimulus = 0.69;
    assert_eq!(suggest(&late), Tier::Trim);
    late[0].seen.prediction.on_stimulus = 0.7;
    assert_eq!(suggest(&late), Tier::Full);
    late[0].share = 0.74;
    assert_eq!(suggest(&late), Tier::Trim, "it is the weight of the version below");
    // none holds: the one that breaks least, the lower of two alike
    let mut none = all();
    for (l, missing) in none.iter_mut().zip([3, 1, 1]) {
        l.missing = missing;
    }
    assert_eq!(suggest(&none), Tier::Base);
}

#[test]
fn who_is_new_or_was_away_begins_lower() {
    let mut m = Member::unknown("Ada", Standard::Lighter, Level::Regular);
    assert_eq!(begins_at(&m, day()), None);
    for (days, begins) in [
        (13, None),
        (14, Some((Tier::Trim, Hinder::Away))),
        (41, Some((Tier::Trim, Hinder::Away))),
        (42, Some((Tier::Base, Hinder::Away))),
    ] {
        m.last_session = Some(day() - chrono::Duration::days(days));
        assert_eq!(begins_at(&m, day()), begins, "{days} days away");
    }
    let new = Member::unknown("Bo", Standard::Heavier, Level::New);
    assert_eq!(begins_at(&new, day()), Some((Tier::Base, Hinder::New)));
}

fn seasoned() -> Member {
    let mut m = Member::unknown("Cy", Standard::Heavier, Level::Seasoned);
    let max = |lift: &str, kg| Max { lift: lift.into(), kg, reps: 1, reserve: 0, date: Some(day()) };
    m.maxes = vec![max("power-clean", 105.0), max("front-squat", 140.0), max("deadlift", 190.0)];
    m.unbroken = vec![Best { movement: "toes-to-bar".into(), reps: 25.0, date: Some(day()) }];
    m.sessions_logged = Some(80);
    m
}

fn why(text: &str, m: &Member) -> Option<(Tier, Hinder)> {
    let (work, stimulus) = work(text);
    let kit = Kit::usual();
    let bars = Bars::of(&kit);
    let hands = Hands { kit: &kit, bars: &bars, stimulus: &stimulus };
    hindered(&work, m, &ability(m, day()), hands, &Settings::default(), day())
}

#[test]
fn the_first_reason_is_a_skill_then_a_weight_then_the_clock() {
    let strong = seasoned();
    assert_eq!(why(TIMED, &strong), None, "nothing keeps them from Full");
    let mut no_toes = seasoned();
    no_toes.unbroken[0].reps = 0.0;
    assert_eq!(why(TIMED, &no_toes), Some((Tier::Trim, Hinder::Skill)));
    let two = "# workout cap 16:00 target 9:00-13:00\n3 rounds for time\n6 toes-to-bar\n6 muscle-ups\n12 air squats";
    let mut neither = no_toes.clone();
    neither.unbroken.push(Best { movement: "muscle-up".into(), reps: 0.0, date: Some(day()) });
    neither.unbroken.push(Best { movement: "bar-muscle-up".into(), reps: 0.0, date: Some(day()) });
    assert_eq!(why(two, &neither), Some((Tier::Base, Hinder::Skill)), "two lines are missing");
    let weak = |kg: f64| {
        let clean = Max { lift: "power-clean".into(), kg, reps: 1, reserve: 0, date: Some(day()) };
        why(TIMED, &Member { maxes: vec![clean], ..seasoned() })
    };
    assert_eq!(weak(52.0), Some((Tier::Trim, Hinder::Heavy)));
    assert_eq!(weak(40.0), Some((Tier::Base, Hinder::Heavy)));
    let tight = TIMED.replace("cap 14:00 target 9:00-12:00", "cap 5:00 target 2:00-2:30");
    assert_eq!(why(&tight, &strong), Some((Tier::Trim, Hinder::Slow)));
}

#[test]
fn a_limited_line_is_not_counted_as_a_missing_skill() {
    let mut m = seasoned();
    m.unbroken[0].reps = 0.0;
    m.limits = vec![Limit::Shoulder];
    assert_ne!(why(TIMED, &m).map(|w| w.1), Some(Hinder::Skill), "the limit rules it out already");
}

fn doer<'a>(athlete: &'a Athlete, stimulus: &'a Stimulus, settings: &'a Settings, new: bool) -> Doer<'a> {
    Doer { standard: Standard::Heavier, athlete, new, stimulus, settings }
}

#[test]
fn what_cannot_be_done_yet_is_found_line_by_line() {
    let text =
        "# workout cap 20:00 target 9:00-14:00\n3 rounds for time\n9 muscle-ups\n15 air squats\n12 burpees";
    let (work, stimulus) = work(text);
    let settings = Settings::default();
    let regular = Athlete::of_level(Standard::Heavier, Level::Regular);
    assert_eq!(missing_lines(&work, doer(&regular, &stimulus, &settings, false)), [0]);
    let strong = Athlete::of_level(Standard::Heavier, Level::Competitive);
    assert_eq!(missing_lines(&work, doer(&strong, &stimulus, &settings, false)), Vec::<usize>::new());
    // somebody new meets nothing of the hardest skill, whatever they could do
    assert_eq!(missing_lines(&work, doer(&strong, &stimulus, &settings, true)), [0]);
}

#[test]
fn somebody_new_lowers_themselves_twenty_times_at_most() {
    let settings = Settings::default();
    let able = Athlete::of_level(Standard::Heavier, Level::Competitive);
    let missing = |reps: u32, rounds: u32| {
        let text =
            format!("# workout cap 20:00\n{rounds} rounds for time\n{reps} jumping pull-ups\n10 air squats");
        let (work, stimulus) = work(&text);
        missing_lines(&work, doer(&able, &stimulus, &settings, true))
    };
    assert!(missing(5, 4).is_empty(), "twenty in all");
    assert_eq!(missing(7, 3), [0], "twenty-one");
}

#[test]
fn a_hall_that_wants_strict_work_first_asks_for_three_reps() {
    let mut settings = Settings::default();
    settings.schools.insert("kipping".into(), "strict-first".into());
    let with = |strict: f64, swung: f64| {
        let mut m = seasoned();
        let best = |movement: &str, reps| Best { movement: movement.into(), reps, date: Some(day()) };
        m.unbroken = vec![best("strict-pull-up", strict), best("pull-up", swung)];
        too_early_to_swing(&ability(&m, day()).athlete, "pull-up", &settings)
    };
    assert_eq!(with(2.0, 4.0), Some(2.0), "two strict reps, and four tenths of four are not three");
    assert_eq!(with(3.0, 4.0), None);
    assert_eq!(with(0.0, 9.0), None, "who swings nine has the strength of three");
    let athlete = ability(&seasoned(), day()).athlete;
    assert_eq!(
        too_early_to_swing(&athlete, "toes-to-bar", &settings),
        None,
        "nothing strict comes before it"
    );
    assert_eq!(
        too_early_to_swing(&athlete, "pull-up", &Settings::default()),
        None,
        "other halls let them swing"
    );
}

#[test]
fn a_rung_is_taken_by_every_line_of_its_movement() {
    let (work, _) = work("AMRAP 5\n10 pull-ups\n12 air squats\nrest 1\nAMRAP 5\n6 pull-ups\n10 burpees");
    let kit = Kit::usual();
    let levers = Levers::of(&work, &kit, &Bars::of(&kit), &Settings::default());
    let moves = |s: &Setting| levers.apply(s).lines.iter().map(|l| l.movement.clone()).collect::<Vec<_>>();
    let (start, easier) = (moves(&levers.start()), moves(&levers.with_way(&levers.start(), 0, 1)));
    assert_ne!(easier[0], start[0]);
    assert_eq!(easier[0], easier[2], "the same in the second part");
    assert_eq!((&easier[1], &easier[3]), (&start[1], &start[3]), "and nothing else");
}
