//! How much of the demo's hall ends on stimulus in each workout of its week: printed, and held to a floor for every family of
//! clocks: whose middle lies in the window. Who is outside is looked at again with many more versions than the plan tries.
#![allow(clippy::unwrap_used, clippy::expect_used, clippy::indexing_slicing)] // a test may fail loudly

use honest_lantern::demo;
use lantern_core::loads::Bars;
use lantern_core::plan::{Class, Options, WorkoutPlan, plan};
use lantern_core::roster::{Ability, Member};
use lantern_core::settings::Settings;
use lantern_core::sheet::read;
use lantern_core::versions::{Clock, PlaceDay, Placed, Prediction, Setting, Tier, within_limits};
use std::collections::BTreeMap;

/// Asked of every family: whose version is chosen as a coach would, not as the clock alone would.
const SHARE: f64 = 0.8;
/// Settings of the levers that are tried for a member whom the plan leaves outside the window.
const TRIES: usize = 120;

fn family(w: &WorkoutPlan) -> &'static str {
    let work = &w.versions[0].work;
    if work.team.is_some() {
        return "teams";
    }
    match (work.sections.len(), work.clock()) {
        (2.., _) => "several parts",
        (_, Clock::Rounds(_) | Clock::Scheme(_) | Clock::Once) => "for time",
        (_, Clock::Amrap(_)) => "as much as possible",
        (_, Clock::Every { .. } | Clock::Alternating { .. }) => "cycles",
        (_, Clock::UntilFailure { .. }) => "until failure",
        (_, Clock::Windows { .. }) => "windows",
        (_, Clock::Stations { .. } | Clock::OnOff { .. }) => "stations",
    }
}

/// Whether any of many settings brings the middle into the window, and the best of them: at or below the work as written, within the member's limits.
fn widest(w: &WorkoutPlan, class: &Class, m: &Member, a: &Ability) -> (f64, Prediction) {
    let (made, stimulus) = (w.made.as_ref().unwrap(), w.stimulus.as_ref().unwrap());
    let (works, bars) = (made.works(), Bars::of(&class.kit));
    let day = PlaceDay {
        works: &works,
        levers: &made.levers,
        settings: &made.settings,
        stimulus,
        kit: &class.kit,
        bars: &bars,
        runs: 60,
        seed: 7,
        schools: &w.schools,
        today: class.date,
        own: false,
    };
    let levers = &made.levers;
    let mut state = 0x9E37_79B9_u64;
    let mut pick = |n: usize| {
        state = state.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1);
        (state >> 33) as usize % n.max(1)
    };
    (0..TRIES)
        .map(|_| {
            let mut s: Setting = levers.start();
            for i in 0..levers.ways.len() {
                s.way[i] = pick(levers.ways[i].len());
            }
            s.weight = pick(4);
            s.amount = pick(levers.amounts.len());
            let (work, _) = within_limits(&day, &levers.apply(&s), m, a, None);
            day.range(&work, m, a, 60).prediction
        })
        .map(|p| (if p.scale_this.is_none() && stimulus.holds(p.p50()) { 1.0_f64 } else { 0.0 }, p))
        .max_by(|a, b| a.0.total_cmp(&b.0).then(a.1.on_stimulus.total_cmp(&b.1.on_stimulus)))
        .unwrap()
}

#[test]
#[expect(clippy::too_many_lines, reason = "stood before the rule; split it when this room is put in order")]
fn most_of_the_hall_ends_on_stimulus_wherever_a_version_allows_it() {
    let class = demo::everybody("2026-11-24".parse().unwrap());
    let mut families: BTreeMap<&str, (usize, usize, usize)> = BTreeMap::new();
    for text in demo::weeks_sheets() {
        let made = plan(&read(text).sheet, &class, &Settings::default(), &[], Options::default());
        for w in made.workouts.iter().filter(|w| w.stimulus.is_some()) {
            let s = w.stimulus.as_ref().unwrap();
            let (mut even, mut not_possible) = (0, 0);
            let full = |p: &Placed| p.tried.iter().find(|t| t.tier == Tier::Full).map_or(0.0, |t| t.p50);
            let mut all: Vec<f64> = w.placed.iter().map(full).collect();
            all.sort_by(f64::total_cmp);
            let (fast, middle, slow) = (all[2], all[all.len() / 2], all[all.len() - 3]);
            println!(
                "{} ({}), target {}; at Full the third {}, the middle {}, the third last {}",
                w.name.as_deref().unwrap_or("Workout"),
                family(w),
                s.window_text(),
                s.write(fast),
                s.write(middle),
                s.write(slow)
            );
            for (i, p) in w.placed.iter().enumerate() {
                let r = &p.predicted.prediction;
                let chance = if r.scale_this.is_some() { 0.0 } else { r.on_stimulus };
                if r.scale_this.is_none() && p.work.keeps(s).holds(r.p50()) {
                    even += 1;
                    continue;
                }
                let (m, a) = (&made.members[i], &made.abilities[i]);
                let short = p.tier == Tier::Full && !s.too_hard(r.p50()) && r.scale_this.is_none();
                let (best, other) = if short { (0.0, r.clone()) } else { widest(w, &class, m, a) };
                let possible = best > 0.5;
                not_possible += usize::from(!possible);
                let why = if possible {
                    format!("another version would end {}", s.write(other.p50()))
                } else if short {
                    "as written it is already short for them: nobody is held back for the clock".to_owned()
                } else {
                    format!(
                        "none of {TRIES} other versions ends in the window: what is known of them spans {} to {}",
                        s.write(r.p10()),
                        s.write(r.p90())
                    )
                };
                println!(
                    "  {} ({}), {}: {chance:.2}, {} likely; {why}",
                    m.name,
                    r.provenance.word(),
                    p.tier.word(),
                    s.write(r.p50())
                );
            }
            println!(
                "  {even} of {} end in the window in the middle, {not_possible} for whom no version does",
                w.placed.len()
            );
            let f = families.entry(family(w)).or_default();
            *f = (f.0 + even, f.1 + w.placed.len() - not_possible, f.2 + w.placed.len());
        }
    }
    for (family, (even, possible, all)) in &families {
        println!("{family}: {even} of {possible} for whom a version allows it ({all} in all)");
    }
    for (family, (even, possible, _)) in families {
        assert!(even as f64 >= SHARE * possible as f64, "{family}: {even} of {possible}");
    }
}
