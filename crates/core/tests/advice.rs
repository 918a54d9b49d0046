//! What a coach tells one member, and who goes with whom: against figures worked out by hand or by another way.
#![allow(clippy::unwrap_used, clippy::indexing_slicing)] // a test may fail loudly

use lantern_core::kit::{Kit, Stock};
use lantern_core::loads::Bars;
use lantern_core::mend::Short;
use lantern_core::pacing::{Level, Style, simulate_partners};
use lantern_core::plan::{
    Class, ClassPlan, Options, even_targets, first_bite, interruption, machine_paces, other_loads, pairings,
    plan, shared_bars, traced_at_middle,
};
use lantern_core::reason::OfLine;
use lantern_core::roster::{Ability, Member, Trial};
use lantern_core::settings::Settings;
use lantern_core::sheet::read;
use lantern_core::stimulus::Stimulus;
use lantern_core::units::{Provenance, Standard, WeightUnit};
use lantern_core::versions::{Effort, Placed, Splits, Tier, compile_lines};

fn planned(text: &str, members: Vec<Member>, kit: Kit) -> ClassPlan {
    let class = Class {
        members,
        kit,
        date: "2026-11-24".parse().unwrap(),
        length_s: None,
        recent_drills: Vec::new(),
        cycles: Vec::new(),
    };
    plan(&read(text).sheet, &class, &Settings::default(), &[], Options { runs: 40, ..Options::default() })
}

fn regular() -> Member {
    let mut m = Member::unknown("Bo", Standard::Heavier, Level::Regular);
    m.trials.push(Trial { test: "row-2000".into(), seconds: 460.0, date: None });
    m
}

/// One regular member's place in a workout.
fn one(text: &str) -> (Placed, Splits, Ability, Stimulus) {
    let p = planned(text, vec![regular()], Kit::usual());
    let w = &p.workouts[0];
    (w.placed[0].clone(), w.splits[0].clone(), p.abilities[0].clone(), w.stimulus.clone().unwrap())
}

#[test]
fn a_piece_on_the_rower_is_set_against_the_members_own_two_kilometres() {
    let (p, splits, a, _) = one("# workout cap 20:00\n4 rounds for time\n500 m row\n15 push-ups");
    let paces = machine_paces(&p, &splits, &regular(), &a);
    assert_eq!(paces.len(), 1);
    // 460 s for 2 km are 1:55 per 500 m
    assert!(paces[0].against.contains("their 2 km pace of 1:55"), "{}", paces[0].against);
    assert_eq!(paces[0].provenance, Provenance::Tested);
    assert!(paces[0].equal.iter().any(|e| e.ends_with("m run")), "{:?}", paces[0].equal);
    let row: Vec<_> = splits.lines.iter().filter(|l| l.position == 0).collect();
    let seconds: f64 = row.iter().map(|l| l.to_s - l.from_s).sum::<f64>() / row.len() as f64;
    assert_eq!(paces[0].pace, format!("{} per 500 m", lantern_core::units::clock(seconds)));
}

#[test]
fn an_interruption_costs_what_its_work_and_its_breaks_take() {
    let (p, _, a, s) =
        one("# workout cap 16:00\nfor time\n60 air squats\n40 push-ups\non every minute: 4 burpees");
    let says = interruption(&p, Standard::Heavier, &a, &s).unwrap();
    assert!(says.starts_with("“every minute: 4 burpees” costs about "), "{says}");
    let (plain, _, a, s) = one("# workout cap 16:00\nfor time\n60 air squats\n40 push-ups");
    assert_eq!(interruption(&plain, Standard::Heavier, &a, &s), None);
}

#[test]
fn a_lighter_bar_buys_score_where_a_later_movement_is_scored() {
    let text =
        "# workout\nintervals 3:00 on / 1:30 off x 3\n12 power clean 50/35 kg\nmax cal row\nscore: calories";
    let (p, _, a, s) = one(text);
    let kit = Kit::usual();
    let bars = Bars::of(&kit);
    let effort = Effort { runs: 40, seed: 1, style: Style::Free };
    let all = other_loads(&p, &regular(), &a, &s, (&kit, &bars), effort);
    let loads = &all[0].1;
    assert!(loads.iter().filter(|l| l.now).count() == 1 && loads.len() >= 4, "{loads:?}");
    let first = loads.first().unwrap().prediction.p50();
    let last = loads.last().unwrap().prediction.p50();
    assert!(last > first, "lighter gives more calories: {first} to {last}");
}

#[test]
fn even_targets_are_held_from_the_first_round_to_the_last() {
    let text =
        "# workout\nstations 1:00 on / 0:30 off, 4 rounds\nwall balls 9/6 kg\npush-ups\nrow cal\nscore: reps";
    let (p, _, a, _) = one(text);
    let targets = even_targets(&p, Standard::Heavier, &a);
    assert_eq!(targets.len(), 3);
    assert!(targets.iter().all(|(_, n)| *n >= 1.0), "{targets:?}");
    // nobody is asked for more than the first fresh minute gives
    let most = a.athlete.unbroken[2] * 2.0;
    assert!(targets[1].1 <= most, "{targets:?}");
    let (timed, _, a, _) = one("# workout cap 9:00\n3 rounds for time\n10 burpees");
    assert!(even_targets(&timed, Standard::Heavier, &a).is_empty());
}

#[test]
fn a_bar_that_goes_on_is_not_put_down_between() {
    let (p, splits, a, _) = one(
        "# workout cap 12:00\n3 rounds for time\n10 deadlifts 60/40 kg\n8 hang power cleans 60/40 kg\n10 burpees",
    );
    let says = shared_bars(&p, &splits, Standard::Heavier, &a);
    let same = p.work.lines[0].kg() == p.work.lines[1].kg();
    assert_eq!(says.len(), usize::from(same), "{says:?}");
    if same {
        assert!(says[0].contains("rest before the last rep of a round"), "{says:?}");
    }
    let (p, splits, a, _) =
        one("# workout cap 12:00\n3 rounds for time\n10 deadlifts 80/55 kg\n8 hang power cleans 40/30 kg");
    assert!(shared_bars(&p, &splits, Standard::Heavier, &a).is_empty(), "another weight is another bar");
}

#[test]
fn the_first_bite_is_the_first_break_of_the_run() {
    let (p, _, _, s) = one("# workout cap 16:00\n4 rounds for time\n15 pull-ups\n20 push-ups");
    let run = traced_at_middle(&p, &s).unwrap();
    let bite = first_bite(&p.work, &run).unwrap();
    let first =
        run.trace.iter().find(|x| x.did == lantern_core::pacing::Did::Break && x.to - x.from > 0.5).unwrap();
    assert_eq!(bite.at_s, first.from);
    assert!(bite.says.starts_with("first break, in "), "{}", bite.says);
    let (easy, _, _, s) = one("# workout cap 16:00\nfor time\n5 air squats");
    assert_eq!(first_bite(&easy.work, &traced_at_middle(&easy, &s).unwrap()), None);
}

#[test]
fn sets_say_when_they_are_picked_up() {
    let (_, splits, ..) = one("# workout cap 16:00\n4 rounds for time\n15 pull-ups\n20 push-ups");
    let broken = splits.lines.iter().find(|l| l.sets.len() > 1).unwrap();
    assert_eq!(broken.starts.len(), broken.sets.len());
    assert!(broken.starts.windows(2).all(|w| w[0] < w[1]));
    assert!(broken.starts[0] >= broken.from_s && *broken.starts.last().unwrap() <= broken.to_s);
    let second = lantern_core::units::clock(broken.starts[1]);
    assert!(broken.text().split(" + ").count() <= broken.sets.len());
    let many =
        lantern_core::versions::LineSets { sets: vec![2.0, 1.0, 1.0, 1.0, 3.0, 3.0], ..broken.clone() };
    assert_eq!(many.text(), "2 + 3×1 + 3 + 3");
    assert!(broken.on_the_clock().contains(&format!(", on it at {second}")), "{}", broken.on_the_clock());
}

#[test]
fn pairs_are_of_near_equal_pace_and_everybody_has_one() {
    let text =
        "# workout cap 20:00\npairs, share the reps\nfor time\n80 cal row\n100 wall balls 9/6 kg\n60 burpees";
    let members: Vec<Member> = Level::ALL
        .iter()
        .flat_map(|l| {
            (0..2).map(move |i| Member::unknown(&format!("{} {i}", l.word()), Standard::Heavier, *l))
        })
        .chain([Member::unknown("last", Standard::Heavier, Level::New)])
        .collect();
    let p = planned(text, members, Kit::usual());
    let teams = pairings(&p.workouts[0], &p.members, &p.abilities);
    let mut all: Vec<usize> = teams.iter().flat_map(|t| t.members.clone()).collect();
    all.sort_unstable();
    assert_eq!(all, (0..9).collect::<Vec<_>>(), "each once");
    assert_eq!(teams.iter().filter(|t| t.members.len() == 3).count(), 1, "the ninth makes a three");
    for t in teams.iter().filter(|t| t.members.len() == 2) {
        let levels: Vec<Level> = t.members.iter().map(|i| p.members[*i].level).collect();
        assert_eq!(levels[0], levels[1], "like goes with like: {t:?}");
        assert!(t.spread < 0.01 && t.other_loads == 0 && t.turns.contains("wall balls"), "{t:?}");
    }
    for t in &teams {
        assert_eq!((t.shares.iter().sum::<u32>(), t.shares.len()), (100, t.members.len()));
    }
    // what is likely is the run of these two together
    let t = teams.iter().find(|t| t.members.len() == 2 && !t.likely.is_empty()).unwrap();
    let w = &p.workouts[0];
    let first = t.members[0];
    let athletes: Vec<_> = t.members.iter().map(|i| &p.abilities[*i].athlete).collect();
    let (workout, _) = compile_lines(
        &w.placed[first].work,
        Standard::Heavier,
        athletes[0],
        w.stimulus.as_ref().unwrap().cap_s,
    );
    assert_eq!(t.likely, lantern_core::units::clock(simulate_partners(&workout, &athletes).time));
    let alone =
        planned("# workout cap 9:00\n3 rounds for time\n10 burpees", Member::archetypes(), Kit::usual());
    assert!(pairings(&alone.workouts[0], &alone.members, &alone.abilities).is_empty());
}

#[test]
fn what_is_short_is_shared_and_nobody_loses_much_weight_for_it() {
    let text = "# workout cap 12:00 target 5:00-9:00\n3 rounds for time\n10 dumbbell push press 2 x 20/12.5 kg\n10 burpees";
    let few = Kit {
        dumbbells: [(20.0, 4), (17.5, 2), (12.5, 8), (10.0, 8)]
            .map(|(size, count)| Stock { size, count })
            .to_vec(),
        ..Kit::usual()
    };
    let members: Vec<Member> =
        (0..4).map(|i| Member::unknown(&format!("m{i}"), Standard::Heavier, Level::Competitive)).collect();
    let p = planned(text, members, few.clone());
    let w = &p.workouts[0];
    let mut held: Vec<f64> = w.placed.iter().filter_map(|p| Some(p.work.lines[0].kg()?[0])).collect();
    held.sort_by(f64::total_cmp);
    // two pairs of 20 for four: one takes the pair of 17.5, which is hardly lighter; nobody is sent down to 12.5
    assert_eq!(held, [17.5, 20.0, 20.0, 20.0]);
    let short = w.placed.iter().flat_map(|p| &p.personal);
    assert_eq!(
        short
            .filter(|x| x.weight
                && x.reasons
                    .iter()
                    .any(|r| matches!(r, OfLine::Stock { implement, .. } if implement == "dumbbells")))
            .count(),
        1
    );
    let says = |s: &Short| lantern_core::say::short(s, WeightUnit::Kg, |i| p.members[i].id.clone());
    let said: Vec<String> = w.short.iter().map(says).collect();
    let (start, end) =
        ("3 want dumbbells of 20 kg for the dumbbell push press at once (m", ") and the hall has 4.");
    assert!(said.iter().any(|n| n.starts_with(start) && n.ends_with(end)), "{said:?}");
    let rows = "# workout cap 12:00\n3 rounds for time\n500 m row\n10 burpees";
    let many: Vec<Member> =
        (0..8).map(|i| Member::unknown(&format!("m{i}"), Standard::Heavier, Level::Regular)).collect();
    let rowers = planned(rows, many, Kit::usual());
    let said: Vec<String> = rowers.workouts[0]
        .short
        .iter()
        .map(|s| lantern_core::say::short(s, WeightUnit::Kg, |_| String::new()))
        .collect();
    // eight of one level row together: two wait a row of about two minutes, three times, shared by eight
    assert!(
        said.iter()
            .any(|n| n.starts_with("8 are at the rowing erg for the row at 0:00 and there are 6: about 1:")),
        "{said:?}"
    );
}

#[test]
fn one_movement_is_broken_another_way_and_the_rest_stays() {
    let (p, _, a, s) = one("# workout cap 16:00\n4 rounds for time\n15 pull-ups\n200 m run\n20 push-ups");
    let all = lantern_core::versions::breakings_by_line(&p, Standard::Heavier, &a, &s, 1);
    assert_eq!(all.len(), 2, "a run is not broken: {:?}", all.iter().map(|x| &x.0).collect::<Vec<_>>());
    for (line, ways) in &all {
        assert_eq!(ways.len(), 5, "{line}");
        assert_eq!(
            ways.iter().map(|w| w.own).collect::<Vec<_>>(),
            [true, false, false, false, false],
            "{line}"
        );
        let singles = ways.iter().find(|w| w.name.starts_with("singles")).unwrap();
        assert!(singles.prediction.p50() > ways[0].prediction.p50(), "{line}: singles take longer");
        assert!(ways.iter().all(|w| (0.0..=1.0).contains(&w.broken)));
    }
    let whole = lantern_core::versions::breakings(&p, Standard::Heavier, &a, &s, 1);
    let of = |w: &[lantern_core::versions::Breaking]| {
        w.iter().find(|w| w.name.starts_with("singles")).unwrap().sets
    };
    assert!(of(&whole) > of(&all[0].1), "only one of the two is in singles");
}

#[test]
fn a_search_is_shown_with_what_it_did_not_take() {
    let text = "# workout cap 14:00 target 9:00-12:00\n3 rounds for time\n30 double-unders\n12 toes-to-bar\n12 power clean 60/42.5 kg\n200 m run";
    let p = planned(text, Member::archetypes(), Kit::usual());
    let w = &p.workouts[0];
    assert!(w.searched(Tier::Full, &Kit::usual(), 9).is_none(), "nothing was searched for Full");
    for tier in [Tier::Trim, Tier::Base] {
        let search = w.searched(tier, &Kit::usual(), 9).unwrap();
        let found = search.path.last().unwrap();
        assert!(search.path.len() >= 2, "an instruction at a time");
        assert!(!search.others.is_empty() && search.others.len() <= 9);
        for c in &search.others {
            assert!(!c.why_not(&found.fit).is_empty() && !c.changes.is_empty());
        }
    }
}
