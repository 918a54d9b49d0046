//! Hard rules that hold in every plan: every case, under every answer to every question on which good coaches differ.

use super::checks::{Case, Cases};
use lantern_core::kit::Kit;
use lantern_core::movement::{LoadKind, Movement, catalogue};
use lantern_core::plan::{Class, ClassPlan, Options, WorkoutPlan, answer, plan};
use lantern_core::reason::OfLine;
use lantern_core::roster::{Member, read_csv};
use lantern_core::schools::Question;
use lantern_core::settings::Settings;
use lantern_core::sheet::read;
use lantern_core::units::Unit;
use lantern_core::versions::{Clock, Instruction, Line, Tier, Work, budget, friendly};

/// A plan for a case, with one question answered otherwise.
pub struct Ruled {
    pub plan: ClassPlan,
    pub kit: Kit,
    pub school: (String, String),
}

fn movement(id: &str) -> &'static Movement {
    catalogue().movement(id).unwrap()
}

fn is_bar(l: &Line) -> bool {
    movement(&l.movement).load == LoadKind::Barbell
}

/// Questions that change no version and no place.
const ELSEWHERE: [Question; 3] = [Question::GeneralWarmUp, Question::DailyHeavy, Question::PercentageBase];

/// The day of all cases.
const DAY: &str = "2026-11-23";

/// The default and every other answer.
pub fn schools() -> Vec<(String, String)> {
    let mut out = vec![(String::new(), String::new())];
    for id in Question::ALL.iter().filter(|id| !ELSEWHERE.contains(id)) {
        let school = catalogue().schools.iter().find(|s| s.id == *id).unwrap();
        out.extend(
            school
                .options
                .iter()
                .filter(|o| o.id != school.default)
                .map(|o| (id.word().to_owned(), o.id.clone())),
        );
    }
    out
}

impl Ruled {
    pub fn of(cases: &Cases, case: &Case, school: &(String, String)) -> Ruled {
        let kit = case.kit.as_ref().map_or_else(Kit::usual, |k| Kit::from_toml(&cases.kits[k]).unwrap());
        let class = Class {
            members: read_csv(&cases.rosters[&case.roster]).members,
            kit: kit.clone(),
            date: DAY.parse().unwrap(),
            length_s: None,
            recent_drills: Vec::new(),
            cycles: Vec::new(),
        };
        let mut settings = Settings::default();
        if !school.0.is_empty() {
            settings.schools.insert(school.0.clone(), school.1.clone());
        }
        let options = Options { runs: 30, seed: 1, ..Options::default() };
        let plan = plan(&read(&case.sheet).sheet, &class, &settings, &[], options);
        Ruled { plan, kit, school: school.clone() }
    }

    pub fn today(&self) -> chrono::NaiveDate {
        DAY.parse().unwrap()
    }

    fn school(&self, option: &str) -> bool {
        self.school.1 == option
    }

    /// What is wrong, each with the rule that it breaks.
    pub fn broken(&self) -> Vec<String> {
        let mut out = Vec::new();
        for w in self.plan.workouts.iter().filter(|w| w.waits.is_none()) {
            self.of_versions(w, &mut out);
            self.of_members(w, &mut out);
        }
        self.of_words(&mut out);
        out.extend(self.unfounded());
        out
    }

    fn of_versions(&self, w: &WorkoutPlan, out: &mut Vec<String>) {
        let works: Vec<&Work> = w.versions.iter().map(|v| &v.work).collect();
        let mut bad = |rule: &str, what: String| out.push(format!("{rule}: {what}"));
        for pair in w.versions.windows(2) {
            let (above, below) = (&pair[0].work, &pair[1].work);
            let says = pair[1].says();
            if above == below {
                bad("H9 two versions are one", says.clone());
            }
            for (a, b) in above.lines.iter().zip(&below.lines).filter(|(a, b)| a.movement == b.movement) {
                if let (Some(x), Some(y)) = (a.kg(), b.kg()) {
                    for s in 0..2 {
                        if y[s] > x[s] + 0.01 {
                            bad("H8 heavier below", format!("{} under {}", b.text(), a.text()));
                        }
                    }
                }
                for (x, y) in a.counts.iter().zip(&b.counts) {
                    if a.counts.len() == b.counts.len() && y[0] > x[0] + 0.01 {
                        bad("H8 more below", format!("{} under {}", b.text(), a.text()));
                    }
                    // runs are cut in hundreds: under 200 m there is only 100
                    let own = pair[1].instructions.iter().any(|i| matches!(i, Instruction::Count(_)));
                    let step = !own && (a.unit != Unit::Metres || x[0] > 200.0);
                    if a.unit == b.unit
                        && a.counts.len() == b.counts.len()
                        && step
                        && y[0] < 0.6 * x[0] - 0.51
                    {
                        bad("H14 steps of amount", format!("{} under {}", b.text(), a.text()));
                    }
                }
            }
        }
        let full = works[0];
        for v in &w.versions[1..] {
            self.of_version(full, &v.work, &mut bad);
            if let Some(made) = &w.made {
                let levers = &made.levers;
                // one thing more to say: a second count, as what is usual for a group goes before its budget; twice the turns; and
                // weights that stay leave only movements to change
                let counts = v.instructions.iter().filter(|i| matches!(i, Instruction::Count(_))).count();
                if v.instructions.len()
                    > budget(levers, v.tier)
                        + usize::from(counts > 1 || self.school("two-for-one") || self.school("fixed"))
                {
                    bad("H19 budget", v.says());
                }
            }
        }
        for v in &w.versions {
            for l in &v.work.lines {
                if !lantern_core::versions::kit_has(&self.kit, &l.movement) {
                    bad("H30 kit", l.text());
                }
            }
        }
    }

    fn of_version(&self, full: &Work, v: &Work, bad: &mut dyn FnMut(&str, String)) {
        for (f, b) in full.lines.iter().zip(&v.lines) {
            let written: Vec<f64> = f.counts.iter().map(|c| c[0]).collect();
            let falls = written.len() > 1 && written.windows(2).all(|w| w[1] < w[0]);
            let n: Vec<f64> = b.counts.iter().map(|c| c[0]).collect();
            if falls && n.len() > 1 && n.windows(2).any(|w| w[1] >= w[0]) {
                bad("H11 a scheme falls", b.text());
            }
            if falls && n.len() != written.len() && written.windows(2).any(|w| w[0] - w[1] > 1.01) {
                bad("H11 a scheme keeps its length", b.text());
            }
            if f.movement == b.movement {
                for (x, y) in f.counts.iter().zip(&b.counts) {
                    let same = f.counts.len() == b.counts.len();
                    if same && y[0] < 0.5 * x[0] - 0.51 && !falls {
                        bad("H13 under half", format!("{} for {}", b.text(), f.text()));
                    }
                }
            }
            for c in &b.counts {
                let kept = f.counts.contains(c);
                if b.unit == Unit::Reps
                    && !kept
                    && c.iter().any(|c| (friendly(*c, b.unit) - c).abs() > 0.01)
                    && b.along.is_empty()
                {
                    bad("H12 friendly", b.text());
                }
                let least = match b.unit {
                    Unit::Calories => 5.0,
                    Unit::Metres if b.weight.is_some() => 10.0,
                    Unit::Metres => 25.0,
                    Unit::Seconds => 10.0,
                    _ => 1.0,
                };
                if !kept && c.iter().any(|c| *c < least) {
                    bad("H3 units", b.text());
                }
            }
        }
        for (i, a) in full.lines.iter().enumerate() {
            for (j, b) in full.lines.iter().enumerate().skip(i + 1) {
                let (x, y) = (v.lines.get(i), v.lines.get(j));
                let (Some(x), Some(y)) = (x, y) else { continue };
                let kept = x.movement == a.movement && y.movement == b.movement;
                if kept && a.unit == b.unit && a.counts == b.counts && x.counts != y.counts {
                    bad("H10 equal counts", format!("{} and {}", x.text(), y.text()));
                }
                let metres = a.unit == Unit::Metres && b.unit == Unit::Metres;
                if metres && a.largest() > b.largest() && x.largest() < y.largest() && x.unit == y.unit {
                    bad("H28 distances", format!("{} and {}", x.text(), y.text()));
                }
            }
        }
        let same_minutes = match (full.clock(), v.clock()) {
            (Clock::Amrap(a), Clock::Amrap(b)) => a == b,
            _ => true,
        };
        if !same_minutes && !self.school("cut-time") {
            bad("H27 minutes", format!("{:?} for {:?}", v.clock(), full.clock()));
        }
    }

    fn of_members(&self, w: &WorkoutPlan, out: &mut Vec<String>) {
        for (m, p) in self.plan.members.iter().zip(&w.placed) {
            let mut bad =
                |rule: &str, what: String| out.push(format!("{rule}: {} ({:?}): {what}", m.name, p.tier));
            if m.is_newcomer() && m.level == lantern_core::pacing::Level::New && p.tier != Tier::Base {
                bad("H4 new is in Base", String::new());
            }
            let settled =
                p.personal.iter().any(|x| x.reasons.iter().any(|r| matches!(r, OfLine::NothingSuits { .. })));
            for l in &p.work.lines {
                let all =
                    std::iter::once(l.movement.as_str()).chain(l.along.iter().map(|a| a.movement.as_str()));
                for id in all {
                    if m.limit_against(&movement(id).avoid_with).is_some() && !settled {
                        bad("H1 a limit", l.text_for(m.standard));
                    }
                    if !lantern_core::versions::kit_has(&self.kit, id) {
                        bad("H30 kit", l.text_for(m.standard));
                    }
                }
                if let Some(kg) = l.kg() {
                    self.of_weight(m, l, m.standard.of(kg), &mut bad);
                }
            }
            let bars = |w: &Work| -> Vec<f64> {
                w.lines
                    .iter()
                    .filter(|l| is_bar(l))
                    .filter_map(Line::kg)
                    .map(|kg| m.standard.of(kg))
                    .collect()
            };
            let (full, bars) = (bars(&w.versions[0].work), bars(&p.work));
            let one = |v: &[f64]| v.windows(2).all(|w| (w[0] - w[1]).abs() < 0.01);
            if one(&full) && !one(&bars) {
                bad("H15 one bar", format!("{bars:?}"));
            }
            if let Some(s) = &p.predicted.prediction.scale_this
                && !p.moved
            {
                bad("H38 scale this", format!("{s:?}"));
            }
        }
    }

    fn of_weight(&self, m: &Member, l: &Line, kg: f64, bad: &mut dyn FnMut(&str, String)) {
        let new = m.is_newcomer() && m.level == lantern_core::pacing::Level::New;
        if is_bar(l) && kg < m.standard.of([20.0, if new { 10.0 } else { 15.0 }]) - 0.6 {
            bad("H16 least bar", l.text_for(m.standard));
        }
        let ceiling = CEILINGS.iter().find(|(has, _)| has.iter().any(|h| l.movement == *h));
        if let Some((_, most)) = ceiling
            && new
        {
            // never more than 1.15 of the usual body's
            if kg > m.standard.of(*most) * 1.15 + 1.3 {
                bad("H5 a newcomer's ceiling", l.text_for(m.standard));
            }
        }
    }

    fn of_words(&self, out: &mut Vec<String>) {
        let said = answer(&self.plan);
        for v in &said.versions {
            for word in PRIVATE {
                if v.says.to_lowercase().contains(word) {
                    out.push(format!("H34 private: {}", v.says));
                }
            }
            if v.says.split_whitespace().count() > 20 {
                out.push(format!("B5 one breath: {}", v.says));
            }
        }
        for m in &said.members {
            for x in m.personal.iter() {
                let lower = x.to_lowercase();
                if PRIVATE.iter().any(|w| lower.contains(w)) || lower.contains("spares") {
                    out.push(format!("H34 private: {x}"));
                }
            }
        }
    }
}

/// What a new person is given at most, kg [heavier, lighter], at 82 and 66 kg of body mass.
const CEILINGS: [(&[&str], [f64; 2]); 9] = [
    (&["deadlift", "sumo-deadlift"], [60.0, 40.0]),
    (&["back-squat"], [40.0, 30.0]),
    (&["front-squat"], [35.0, 25.0]),
    (&["power-clean", "squat-clean", "hang-power-clean"], [35.0, 25.0]),
    (&["power-snatch", "squat-snatch", "hang-power-snatch"], [25.0, 15.0]),
    (&["push-press", "push-jerk"], [30.0, 20.0]),
    (&["strict-press", "thruster"], [25.0, 15.0]),
    (&["overhead-squat"], [20.0, 15.0]),
    (&["kb-swing", "goblet-squat"], [16.0, 12.0]),
];

/// Words that stand on no public line.
const PRIVATE: [&str; 9] = [
    "as you told",
    "as agreed",
    "pregnan",
    "knee limit",
    "shoulder limit",
    "no impact",
    "no hanging",
    "body mass",
    "years old",
];

#[test]
fn every_hard_rule_holds_in_every_case_under_every_answer() {
    let all: Cases = serde_json::from_str(include_str!("cases.json")).unwrap();
    let mut bad: std::collections::BTreeMap<String, Vec<String>> = std::collections::BTreeMap::new();
    for case in &all.cases {
        for school in schools() {
            for found in Ruled::of(&all, case, &school).broken() {
                bad.entry(found).or_default().push(format!("{} [{} {}]", case.title, school.0, school.1));
            }
        }
    }
    let said: Vec<String> =
        bad.iter().map(|(b, w)| format!("{b}\n    {} x, as in {}", w.len(), w[0])).collect();
    assert!(bad.is_empty(), "{}", said.join("\n"));
}
