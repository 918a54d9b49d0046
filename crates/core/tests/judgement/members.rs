//! What every member does.

use super::checks::{Check, Planned, each, within};
use lantern_core::movement::{LoadKind, catalogue};
use lantern_core::plan::{MemberAnswer, SetPlanAnswer};
use lantern_core::roster::Member;
use lantern_core::versions::PredictionUnit;

fn is_bar(id: &str) -> bool {
    catalogue().movement(id).is_some_and(|m| m.load == LoadKind::Barbell)
}

/// Least sensible bars, kg [heavier, lighter].
const LEAST: [(&str, [f64; 2]); 4] = [
    ("clean", [30.0, 20.0]),
    ("snatch", [25.0, 15.0]),
    ("thruster", [20.0, 15.0]),
    ("deadlift", [40.0, 30.0]),
];

impl Planned {
    pub fn of_members(&self, check: &Check) -> Option<Vec<String>> {
        Some(match check {
            Check::Tier { who, r#in } => self.each(who, |_, m| {
                let tier = m.tier.unwrap();
                if r#in.contains(&tier) { Vec::new() } else { vec![format!("{tier:?}")] }
            }),
            Check::Load { who, r#move, min, max } => self.each(who, |_, m| {
                let mine = self.lines(m).into_iter().filter(|l| r#move.contains(&l.movement));
                mine.filter(|l| l.load_kg.is_some_and(|kg| !within(kg, *min, *max)))
                    .map(|l| l.text.clone())
                    .collect()
            }),
            Check::DoesNot { who, r#move } => self.each(who, |_, m| {
                self.lines(m)
                    .into_iter()
                    .filter(|l| r#move.contains(&l.movement))
                    .map(|l| l.text.clone())
                    .collect()
            }),
            Check::DoesOneOf { who, r#move } => self.each(who, |_, m| {
                let any = self.lines(m).iter().any(|l| r#move.contains(&l.movement));
                if any { Vec::new() } else { self.lines(m).iter().map(|l| l.text.clone()).collect() }
            }),
            Check::OneBar { who } => self.each(who, |_, m| {
                let mut kg: Vec<f64> =
                    self.lines(m).iter().filter(|l| is_bar(&l.movement)).filter_map(|l| l.load_kg).collect();
                kg.sort_by(f64::total_cmp);
                kg.dedup();
                if kg.len() > 1 { vec![format!("{kg:?}")] } else { Vec::new() }
            }),
            other => {
                return self
                    .of_body_and_kit(other)
                    .or_else(|| self.of_sets(other))
                    .or_else(|| self.of_words(other));
            }
        })
    }

    fn of_body_and_kit(&self, check: &Check) -> Option<Vec<String>> {
        Some(match check {
            Check::LimitsHold { who } => self.each(who, |member, m| {
                let avoided = |id: &str| {
                    catalogue().movement(id).is_some_and(|x| member.limit_against(&x.avoid_with).is_some())
                };
                self.lines(m).iter().filter(|l| avoided(&l.movement)).map(|l| l.text.clone()).collect()
            }),
            Check::Least => self.each(&None, |member, m| {
                let light = |id: &str, kg: f64| {
                    let least = LEAST.iter().find(|(w, _)| is_bar(id) && id.contains(w)).map(|(_, kg)| *kg);
                    least.is_some_and(|l| kg < member.standard.of(l) - 0.6)
                };
                let lines = self.lines(m).into_iter();
                lines
                    .filter(|l| l.load_kg.is_some_and(|kg| light(&l.movement, kg)))
                    .map(|l| l.text.clone())
                    .collect()
            }),
            Check::Kit { gone } => self.each(&None, |_, m| {
                let needs = |id: &str| {
                    catalogue()
                        .movement(id)
                        .is_some_and(|x| x.equipment.iter().any(|e| gone.iter().any(|g| g == e.word())))
                };
                let mine = self.lines(m).into_iter().map(|l| &l.movement);
                let versions = self.versions().into_iter().flat_map(|v| v.lines.iter().map(|l| &l.movement));
                mine.chain(versions).filter(|id| needs(id)).cloned().collect()
            }),
            Check::Better { better, worse } => self.better(better, worse),
            Check::Prediction { who, field, min, max } => self.each(who, |_, m| {
                let p = m.predictions.iter().find(|p| p.block == self.block).unwrap();
                let v = match field.as_str() {
                    "p10" => p.p10,
                    "p50" => p.p50,
                    "p90" => p.p90,
                    "on_stimulus" => p.on_stimulus,
                    other => panic!("{other}"),
                };
                if within(v, *min, *max) { Vec::new() } else { vec![format!("{field} {v}")] }
            }),
            _ => return None,
        })
    }

    /// What is found for each of some members, with their names.
    fn each(
        &self,
        who: &super::checks::Who,
        find: impl Fn(&Member, &MemberAnswer) -> Vec<String>,
    ) -> Vec<String> {
        let named = |(m, a): (&Member, &MemberAnswer)| {
            find(m, a).into_iter().map(|f| format!("{}: {f}", m.name)).collect::<Vec<_>>()
        };
        self.who(who).into_iter().flat_map(named).collect()
    }

    fn of_sets(&self, check: &Check) -> Option<Vec<String>> {
        let plans = |m: &MemberAnswer, moves: &[String]| -> Vec<SetPlanAnswer> {
            let mine = m.set_plan.iter().filter(|s| s.block == self.block && moves.contains(&s.movement));
            mine.cloned().collect()
        };
        let said = |s: &SetPlanAnswer| format!("{} round {}: {:?}", s.movement, s.round, s.sets);
        Some(match check {
            Check::Count { who, r#move, min, max } => self.each(who, |_, m| {
                let last = self.cut_round(m);
                let whole = plans(m, r#move).into_iter().filter(|s| Some(s.round) != last);
                whole.filter(|s| !within(s.sets.iter().sum(), *min, *max)).map(|s| said(&s)).collect()
            }),
            Check::Total { who, r#move, min, max } => self.each(who, |_, m| {
                let total: f64 = plans(m, r#move).iter().flat_map(|s| &s.sets).sum();
                if within(total, *min, *max) { Vec::new() } else { vec![format!("{total} in all")] }
            }),
            Check::Sets { who, r#move, max } => self.each(who, |_, m| {
                plans(m, r#move).iter().filter(|s| s.sets.len() > *max).map(said).collect()
            }),
            Check::Half { who, r#move } => self.each(who, |_, m| {
                let short = |s: &&SetPlanAnswer| {
                    let largest = s.sets.iter().copied().fold(0.0, f64::max);
                    s.round == 1 && largest < s.sets.iter().sum::<f64>() / 2.0 - 0.01
                };
                plans(m, r#move).iter().filter(short).map(said).collect()
            }),
            Check::NoStrings => self.each(&None, |_, m| {
                let string = |s: &&SetPlanAnswer| {
                    let small = s.sets.len() > 4 && s.sets.iter().all(|n| *n <= 3.0);
                    small || s.sets.windows(2).any(|w| w[1] > w[0])
                };
                m.set_plan.iter().filter(string).map(said).collect()
            }),
            _ => return None,
        })
    }

    /// The round that an open clock cuts off.
    fn cut_round(&self, m: &MemberAnswer) -> Option<u32> {
        let v = self.version(lantern_core::versions::Tier::Full);
        let open = v.seconds.is_some() && v.rounds.is_none_or(|r| r == 1);
        let last = m.set_plan.iter().filter(|s| s.block == self.block).map(|s| s.round).max()?;
        (open && last > 3).then_some(last)
    }

    fn better(&self, better: &str, worse: &str) -> Vec<String> {
        let one = |name: &str| self.who(&Some(vec![name.to_owned()]))[0].1;
        let (a, b) = (one(better), one(worse));
        let mut out = Vec::new();
        if a.tier > b.tier {
            out.push(format!("{:?} under {:?}", a.tier, b.tier));
        }
        let of = |m: &MemberAnswer| m.predictions.iter().find(|p| p.block == self.block).cloned().unwrap();
        let (x, y) = (of(a), of(b));
        let slower =
            if x.unit == PredictionUnit::Seconds { x.p50 > 1.03 * y.p50 } else { x.p50 < 0.97 * y.p50 };
        if a.tier == b.tier && slower {
            out.push(format!("{} against {}", x.p50, y.p50));
        }
        for l in self.lines(a) {
            let other = self.lines(b).into_iter().find(|z| z.movement == l.movement);
            if other.and_then(|o| o.load_kg).zip(l.load_kg).is_some_and(|(o, l)| l < o - 0.01) {
                out.push(format!("{} is lighter", l.text));
            }
        }
        out
    }

    fn of_words(&self, check: &Check) -> Option<Vec<String>> {
        let said = |m: &MemberAnswer| m.personal.iter().chain(&m.private).cloned().collect::<Vec<_>>();
        Some(match check {
            Check::PersonalLines { who, max } => {
                let all = self.each(who, |_, m| m.personal.clone());
                if all.len() > *max { all } else { Vec::new() }
            }
            Check::PersonalEach { who, max } => {
                self.each(who, |_, m| if said(m).len() > *max { said(m) } else { Vec::new() })
            }
            Check::NoLoadOnly => self.each(&None, |_, m| {
                let version = self.version(m.tier.unwrap());
                let only = |text: &String| {
                    let mine = self.lines(m).into_iter().find(|l| l.text == *text)?;
                    let v = version.lines.get(mine.line)?;
                    let one = each(&v.count).is_none_or(|n| mine.counts == [n]);
                    (v.movement == mine.movement && one).then(|| text.clone())
                };
                m.personal.iter().filter_map(only).collect()
            }),
            Check::TextNot { who, r#where, words } => self.each(who, |_, m| {
                let all: Vec<String> = match r#where.as_str() {
                    "reasons" => m.reasons.clone(),
                    "personal" => said(m),
                    _ => m.reasons.iter().cloned().chain(said(m)).collect(),
                };
                all.into_iter().filter(|t| words.iter().any(|w| t.contains(w.as_str()))).collect()
            }),
            Check::ToldApart => self.each(&None, |_, m| {
                let alike = |r: &&String| {
                    r.split_once(" instead of ").is_some_and(|(a, b)| {
                        b.strip_prefix(a).is_some_and(|rest| rest.starts_with([':', ',', '.', ' ']))
                    })
                };
                m.reasons.iter().filter(alike).cloned().collect()
            }),
            _ => return None,
        })
    }
}
