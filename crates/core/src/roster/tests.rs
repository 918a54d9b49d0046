//! Roster files and abilities.

use super::*;
use crate::kinds::Limit;
use crate::units::Provenance;

fn day() -> NaiveDate {
    NaiveDate::from_ymd_opt(2026, 11, 24).unwrap()
}

#[test]
fn a_roster_file_is_read_with_its_maxes_and_dates() {
    let r = read_csv(
        "name,standard,level,body_mass_kg,limits,max:back squat,max_lb:deadlift,unbroken:pull-up,time:row-2000,shoe\n\
         Ada Vell,lighter,seasoned,61,shoulder;knee,90x3@2026-09-01,225,9,7:58,40\n",
    );
    let m = &r.members[0];
    assert_eq!((m.standard, m.level, m.body_mass_kg), (Standard::Lighter, Level::Seasoned, Some(61.0)));
    assert_eq!(m.limits, [Limit::Shoulder, Limit::Knee]);
    assert_eq!(
        m.maxes[0],
        Max {
            lift: "back-squat".into(),
            kg: 90.0,
            reps: 3,
            reserve: 0,
            date: NaiveDate::from_ymd_opt(2026, 9, 1)
        }
    );
    assert_eq!(m.maxes[1].kg, 102.06);
    assert_eq!((m.unbroken[0].reps, m.trials[0].seconds), (9.0, 478.0));
    assert_eq!(r.problems.iter().map(|p| p.column.as_str()).collect::<Vec<_>>(), vec!["shoe"]);
}

#[test]
fn bad_cells_are_named_and_the_rest_is_kept() {
    let r = read_csv("name;standard;max:front squat\nBo;sideways;heavy\n;lighter;60\nBo;lighter;60\n");
    assert_eq!(r.members.len(), 1);
    let said: Vec<(u64, &str)> = r.problems.iter().map(|p| (p.line, p.column.as_str())).collect();
    assert_eq!(said, vec![(1, "level"), (2, "standard"), (2, "max:front squat"), (3, "name"), (4, "name")]);
    assert!(read_csv("").members.is_empty());
    assert!(read_csv("who\nBo").problems.iter().any(|p| p.message.contains("column called name")));
}

#[test]
fn a_member_with_nothing_known_is_the_default_of_the_level_and_assumed() {
    let m = Member::unknown("Bo", Standard::Heavier, Level::Regular);
    let a = ability(&m, day());
    assert_eq!(a.athlete, crate::pacing::Athlete::of_level(Standard::Heavier, Level::Regular));
    assert_eq!(a.known, crate::pacing::Known::all(Provenance::Assumed));
}

#[test]
fn what_is_known_moves_the_model_and_its_certainty() {
    let mut m = Member::unknown("Bo", Standard::Heavier, Level::Regular);
    m.maxes.push(Max { lift: "back-squat".into(), kg: 180.0, reps: 1, reserve: 0, date: Some(day()) });
    m.unbroken.push(Best { movement: "pull-up".into(), reps: 30.0, date: Some(day()) });
    m.trials.push(Trial { test: "row-2000".into(), seconds: 400.0, date: Some(day()) });
    let a = ability(&m, day());
    assert_eq!(a.athlete.one_rm_of("back-squat"), Some(180.0));
    assert!(a.athlete.one_rm_of("front-squat").unwrap() > 140.0);
    assert_eq!(a.athlete.unbroken[0], 30.0);
    assert_eq!(
        (a.known.engine, a.known.groups[0], a.known.groups[3]),
        (Provenance::Tested, Provenance::Tested, Provenance::Tested)
    );
    assert_eq!(a.known.groups[5], Provenance::Assumed);
    // without a day, or half a year old, nothing is tested; how often somebody was there says nothing
    m.unbroken[0].date = None;
    m.trials[0].date = day().checked_sub_days(chrono::Days::new(183));
    m.sessions_logged = Some(200);
    let known = ability(&m, day()).known;
    assert_eq!((known.engine, known.groups[3]), (Provenance::Estimated, Provenance::Estimated));
    assert_eq!((known.cycle, known.groups[5]), (Provenance::Assumed, Provenance::Assumed));
}

#[test]
fn a_misspelt_limit_is_named_with_the_nearest() {
    assert_eq!(read_limit(" No impact"), Ok(Limit::NoImpact));
    assert_eq!(read_limit("knee"), Ok(Limit::Knee));
    assert!(read_limit("kneee").unwrap_err().contains("Did you mean knee?"));
    assert!(read_limit("gluten").unwrap_err().contains("Limits are "));
    let roster = read_csv("name,standard,level,limits\nAda,lighter,new,\"knee; sholder\"");
    assert!(roster.problems[0].message.contains("Did you mean shoulder?"), "{:?}", roster.problems);
}

#[test]
fn a_table_with_the_line_ends_of_a_form_names_the_same_lines() {
    let text = "name,standard,level,body_mass_kg\nAda,lighter,new,61\nBo,heavier,new,fat\nCy,heavier,,80\n";
    for ends in ["\n", "\r\n", "\r"] {
        let read = read_csv(&text.replace('\n', ends));
        let said: Vec<(u64, &str)> = read.problems.iter().map(|p| (p.line, p.column.as_str())).collect();
        assert_eq!((read.members.len(), said), (3, vec![(3, "body_mass_kg"), (4, "level")]), "{ends:?}");
    }
}

#[test]
fn a_name_that_is_there_in_other_letters_or_too_long_is_left_out() {
    let long = "a".repeat(81);
    let read =
        read_csv(&format!("name,standard,level\nAda,lighter,new\nADA,lighter,new\n{long},lighter,new"));
    let said: Vec<(u64, &str)> = read.problems.iter().map(|p| (p.line, p.column.as_str())).collect();
    assert_eq!((read.members.len(), said), (1, vec![(3, "name"), (4, "name")]));
}
