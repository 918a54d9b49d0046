//! A member's form: its texts as typed, read into a member or answered at their field.

use crate::day::read_day;
use crate::session::Fields;
use chrono::NaiveDate;
use lantern_core::movement::{Found, catalogue, say::spoken};
use lantern_core::pacing::Level;
use lantern_core::roster::{Best, Max, Member, Trial, read_limit};
use lantern_core::sheet::{read_clock, read_number};
use lantern_core::units::{Standard, clock, plain};
use std::collections::BTreeMap;

/// Rows of lifts, and of best sets, that a form holds.
const MOST_ROWS: usize = 400;
/// Trials that a form has a row for: id, name.
pub(in crate::pages) const TRIALS: [(&str, &str); 2] = [("row-2000", "2 km row"), ("run-1000", "1 km run")];

/// The form's texts, as they are typed.
#[derive(Clone, Default)]
pub(super) struct Form {
    pub fields: BTreeMap<&'static str, String>,
    pub limits: Vec<String>,
    pub lifts: Vec<[String; 5]>,
    pub bests: Vec<[String; 3]>,
    /// Time and day of each trial.
    pub trials: BTreeMap<&'static str, [String; 2]>,
    /// What was known when the form was opened.
    pub shown: Option<Member>,
}

fn day(d: Option<NaiveDate>) -> String {
    d.map(|d| d.to_string()).unwrap_or_default()
}

impl Form {
    pub fn of(m: &Member) -> Form {
        let number = |v: Option<f64>| v.map(plain).unwrap_or_default();
        let trial = |t: &&str| {
            let found = m.trials.iter().find(|x| x.test == **t);
            found.map(|x| [clock(x.seconds), day(x.date)]).unwrap_or_default()
        };
        Form {
            fields: [
                ("name", m.name.clone()),
                ("standard", m.standard.word().to_owned()),
                ("level", m.level.word().to_owned()),
                ("mass", number(m.body_mass_kg)),
                ("stature", number(m.stature_cm)),
                ("hooks", m.hooks.map(|h| h.to_string()).unwrap_or_default()),
            ]
            .into_iter()
            .collect(),
            limits: m.limits.iter().map(|l| l.word().to_owned()).collect(),
            lifts: m
                .maxes
                .iter()
                .map(|x| {
                    let reserve = if x.reserve == 0 { String::new() } else { x.reserve.to_string() };
                    [spoken(&x.lift), plain(x.kg), x.reps.to_string(), reserve, day(x.date)]
                })
                .collect(),
            bests: m.unbroken.iter().map(|x| [spoken(&x.movement), plain(x.reps), day(x.date)]).collect(),
            trials: TRIALS.iter().map(|(t, _)| (*t, trial(t))).collect(),
            shown: Some(m.clone()),
        }
    }

    /// What was shown, as the form says it: every trial has one row.
    pub fn shown(&self) -> Option<Member> {
        let mut m = self.shown.clone()?;
        let mut seen: Vec<String> = Vec::new();
        m.trials.retain(|t| {
            let first = !seen.contains(&t.test);
            seen.push(t.test.clone());
            first
        });
        Some(m)
    }

    pub fn read(f: &Fields) -> Form {
        let column = |name: &str| f.all(name).into_iter().map(|v| v.trim().to_owned()).collect::<Vec<_>>();
        let at = |v: &[String], i: usize| v.get(i).cloned().unwrap_or_default();
        let (lift, kg, reps, reserve, on) =
            (column("lift"), column("kg"), column("reps"), column("reserve"), column("lift_date"));
        let (best, best_reps, best_on) = (column("best"), column("best_reps"), column("best_date"));
        Form {
            fields: ["name", "standard", "level", "mass", "stature", "hooks"]
                .map(|n| (n, f.get(n).trim().to_owned()))
                .into_iter()
                .collect(),
            limits: f.all("limit").into_iter().map(str::to_owned).collect(),
            lifts: (0..lift.len())
                .map(|i| [at(&lift, i), at(&kg, i), at(&reps, i), at(&reserve, i), at(&on, i)])
                .collect(),
            bests: (0..best.len()).map(|i| [at(&best, i), at(&best_reps, i), at(&best_on, i)]).collect(),
            trials: TRIALS
                .iter()
                .map(|(t, _)| (*t, [f.get(t), f.get(&format!("{t}_date"))].map(|v| v.trim().to_owned())))
                .collect(),
            shown: serde_json::from_str(f.get("shown")).ok(),
        }
    }
}

/// Problems by field and by row.
#[derive(Default)]
pub(super) struct Wrong {
    pub fields: BTreeMap<&'static str, String>,
    pub lifts: BTreeMap<usize, String>,
    pub bests: BTreeMap<usize, String>,
    pub trials: BTreeMap<&'static str, String>,
}

impl Wrong {
    pub fn any(&self) -> bool {
        !(self.fields.is_empty() && self.lifts.is_empty() && self.bests.is_empty() && self.trials.is_empty())
    }
}

fn movement(text: &str) -> Result<String, String> {
    let words: Vec<&str> = text.split_whitespace().collect();
    match catalogue().find(&words, true) {
        Found::Movement { id, words: n, .. } if n == words.len() => Ok(id),
        _ => {
            let near: Vec<String> =
                catalogue().nearest(text, 3).iter().map(|m| catalogue().written(&m.id)).collect();
            let mean =
                if near.is_empty() { String::new() } else { format!(" Did you mean {}?", near.join(", ")) };
            Err(format!("I do not know “{text}”.{mean}"))
        }
    }
}

fn date(text: &str) -> Result<Option<NaiveDate>, String> {
    if text.is_empty() {
        return Ok(None);
    }
    read_day(text, "The day").map(Some)
}

pub(in crate::pages) fn lift_row(r: &[String; 5]) -> Result<Max, String> {
    let [lift, kg, reps, reserve, on] = r;
    let number = |t: &str, low: f64, high: f64, what: &str| {
        read_number(t)
            .filter(|v| (low..=high).contains(v))
            .ok_or_else(|| format!("{what} is a number from {} to {}.", plain(low), plain(high)))
    };
    let reps = if reps.is_empty() { 1.0 } else { number(reps, 1.0, 30.0, "The number of reps")? };
    let reserve = if reserve.is_empty() { 0.0 } else { number(reserve, 0.0, 10.0, "The reps left")? };
    let kg = number(kg, 1.0, 500.0, "The load in kg")?;
    Ok(Max { lift: movement(lift)?, kg, reps: reps as u32, reserve: reserve as u32, date: date(on)? })
}

fn best_row(r: &[String; 3]) -> Result<Best, String> {
    let [name, reps, on] = r;
    let reps = read_number(reps)
        .filter(|v| (0.0..=2000.0).contains(v))
        .ok_or("The best set is a number from 0 to 2000.")?;
    Ok(Best { movement: movement(name)?, reps, date: date(on)? })
}

pub(super) fn check(form: &Form) -> (Member, Wrong) {
    let mut wrong = Wrong::default();
    let text = |n: &str| form.fields.get(n).map_or("", String::as_str);
    let mut m = Member::unknown(text("name"), Standard::Heavier, Level::Regular);
    if !m.name.chars().any(char::is_alphanumeric) {
        wrong.fields.insert("name", "Write a name.".to_owned());
    } else if m.name.chars().count() > 80 {
        wrong.fields.insert("name", "A name has at most 80 letters.".to_owned());
    }
    if text("standard") == "lighter" {
        m.standard = Standard::Lighter;
    }
    m.level = Level::ALL.into_iter().find(|l| l.word() == text("level")).unwrap_or(Level::Regular);
    for (name, low, high, what) in [("mass", 25.0, 250.0, "Body mass"), ("stature", 100.0, 230.0, "Stature")]
    {
        let t = text(name);
        let v = read_number(t).filter(|v| (low..=high).contains(v));
        if !t.is_empty() && v.is_none() {
            wrong.fields.insert(
                name,
                format!("{what} is a number from {} to {}, or empty.", plain(low), plain(high)),
            );
        }
        if name == "mass" { m.body_mass_kg = v } else { m.stature_cm = v }
    }
    let hooks = text("hooks");
    m.hooks = hooks.parse::<u32>().ok().filter(|h| (1..=60).contains(h));
    if !hooks.is_empty() && m.hooks.is_none() {
        wrong.fields.insert("hooks", "The hole of the hooks is a number from 1 to 60, or empty.".to_owned());
    }
    check_rows(form, &mut m, &mut wrong);
    (m, wrong)
}

/// Limits, lifts, best sets and trials of a form.
fn check_rows(form: &Form, m: &mut Member, wrong: &mut Wrong) {
    for limit in &form.limits {
        match read_limit(limit) {
            Ok(known) => m.limits.push(known),
            Err(e) => drop(wrong.fields.insert("limit", e)),
        }
    }
    if form.lifts.len() > MOST_ROWS || form.bests.len() > MOST_ROWS {
        wrong.fields.insert(
            "name",
            format!("A form holds {MOST_ROWS} rows of lifts and of sets. Read a CSV for more."),
        );
    }
    for (i, r) in form.lifts.iter().enumerate().filter(|(_, r)| r.iter().any(|c| !c.is_empty())) {
        match lift_row(r) {
            Ok(x) => m.maxes.push(x),
            Err(e) => drop(wrong.lifts.insert(i, e)),
        }
    }
    for (i, r) in form.bests.iter().enumerate().filter(|(_, r)| r.iter().any(|c| !c.is_empty())) {
        match best_row(r) {
            Ok(x) => m.unbroken.push(x),
            Err(e) => drop(wrong.bests.insert(i, e)),
        }
    }
    for (test, _) in TRIALS {
        let [t, on] = form.trials.get(test).cloned().unwrap_or_default();
        let seconds = read_clock(&t, 60.0).map(f64::from).filter(|s| (60.0..=3600.0).contains(s));
        match (seconds, date(&on)) {
            (Some(seconds), Ok(date)) => m.trials.push(Trial { test: test.to_owned(), seconds, date }),
            (Some(_), Err(e)) => drop(wrong.trials.insert(test, e)),
            (None, _) if t.is_empty() => {}
            (None, _) => drop(wrong.trials.insert(test, "Write the time as 7:45.".to_owned())),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use lantern_core::kinds::Limit;

    #[test]
    fn bad_figures_are_answered_at_their_field_and_nothing_typed_is_lost() {
        let f = Fields::read(b"name=&mass=fat&lift=frnt+squat&kg=80&reps=1&reserve=&lift_date=&best=pull-up&best_reps=9&best_date=&row-2000=soon").unwrap();
        let form = Form::read(&f);
        let (_, wrong) = check(&form);
        assert_eq!(wrong.fields.keys().copied().collect::<Vec<_>>(), ["mass", "name"]);
        assert!(wrong.lifts[&0].contains("Did you mean front squat"), "{:?}", wrong.lifts);
        assert!(wrong.bests.is_empty() && wrong.trials.contains_key("row-2000"));
        assert_eq!((form.lifts[0][0].as_str(), form.fields["mass"].as_str()), ("frnt squat", "fat"));
    }

    #[test]
    fn a_whole_member_survives_the_form() {
        let mut m = Member::unknown("Ada", Standard::Lighter, Level::Seasoned);
        m.maxes.push(Max {
            lift: "front-squat".into(),
            kg: 82.5,
            reps: 3,
            reserve: 1,
            date: NaiveDate::from_ymd_opt(2026, 9, 1),
        });
        m.unbroken.push(Best { movement: "toes-to-bar".into(), reps: 12.0, date: None });
        m.trials.push(Trial {
            test: "row-2000".into(),
            seconds: 478.0,
            date: NaiveDate::from_ymd_opt(2026, 3, 1),
        });
        m.limits.push(Limit::Knee);
        m.hooks = Some(9);
        let (again, wrong) = check(&Form::of(&m));
        assert!(!wrong.any());
        assert_eq!(again, m_named(&m, &again));
    }

    fn m_named(m: &Member, like: &Member) -> Member {
        Member { id: like.id.clone(), ..m.clone() }
    }
}
