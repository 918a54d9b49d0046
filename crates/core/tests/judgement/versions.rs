//! What the three versions ask for.

use super::checks::{Check, Planned, counts_in, each};
use lantern_core::movement::{LoadKind, catalogue};
use lantern_core::plan::{LineAnswer, VersionAnswer};
use lantern_core::units::Unit;
use lantern_core::versions::Tier;

/// Reps that stand on boards.
const FRIENDLY: [u32; 32] = [
    1, 2, 3, 4, 5, 6, 8, 9, 10, 12, 15, 16, 18, 20, 21, 24, 25, 27, 30, 35, 40, 45, 50, 60, 70, 75, 80, 90,
    100, 120, 150, 200,
];

fn load_of(id: &str) -> LoadKind {
    catalogue().movement(id).map_or(LoadKind::None, |m| m.load)
}

fn short_machine(text: &str) -> bool {
    let small = |unit: &str| text.split_once(unit).and_then(|(n, _)| n.parse::<f64>().ok());
    small(" cal ").is_some_and(|n| n < 5.0) || text.starts_with("0:0")
}

impl Planned {
    /// Lines of two versions side by side; empty where they have not as many.
    fn pairs<'a>(a: &'a VersionAnswer, b: &'a VersionAnswer) -> Vec<(&'a LineAnswer, &'a LineAnswer)> {
        if a.lines.len() == b.lines.len() { a.lines.iter().zip(&b.lines).collect() } else { Vec::new() }
    }

    fn texts(&self) -> Vec<String> {
        self.versions().iter().flat_map(|v| v.lines.iter().map(|l| l.text.clone())).collect()
    }

    pub fn of_versions(&self, check: &Check) -> Option<Vec<String>> {
        let full = self.version(Tier::Full);
        let own = || self.plan.members.iter().flat_map(|m| &m.personal).cloned();
        Some(match check {
            Check::Scheme { allow } => {
                let scheme = |t: &String| {
                    let n = counts_in(t);
                    let said = n.iter().map(u32::to_string).collect::<Vec<_>>().join("-");
                    n.len() > 1 && !allow.contains(&said)
                };
                self.texts().into_iter().chain(own()).filter(scheme).collect()
            }
            Check::Falling => {
                let rises =
                    |t: &String| counts_in(t).len() > 2 && counts_in(t).windows(2).any(|w| w[1] >= w[0]);
                self.texts().into_iter().chain(own()).filter(rises).collect()
            }
            Check::EqualCounts { lines } => {
                let differ = |v: &&VersionAnswer| {
                    let mut all: Vec<Vec<u32>> = lines
                        .iter()
                        .filter_map(|i| v.lines.get(*i).filter(|l| l.unit == Unit::Reps))
                        .map(|l| counts_in(&l.text))
                        .collect();
                    all.dedup();
                    all.len() > 1
                };
                self.versions().into_iter().filter(differ).map(|v| v.says.clone()).collect()
            }
            Check::BaseLighter => {
                let pairs = full
                    .lines
                    .iter()
                    .flat_map(|f| self.version(Tier::Base).lines.iter().map(move |b| (f, b)));
                let heavier = |(f, b): &(&LineAnswer, &LineAnswer)| {
                    let kg = f.load_kg.zip(b.load_kg);
                    f.movement == b.movement && kg.is_some_and(|(f, b)| b[0] >= f[0] || b[1] >= f[1])
                };
                pairs.filter(heavier).map(|(_, b)| b.text.clone()).collect()
            }
            Check::VersionOneBar => self.mixed_bars(),
            Check::Friendly => {
                let written: Vec<u32> = full.lines.iter().flat_map(|l| counts_in(&l.text)).collect();
                let odd = |l: &&LineAnswer| {
                    let n = counts_in(&l.text);
                    l.unit == Unit::Reps && n.iter().any(|n| !FRIENDLY.contains(n) && !written.contains(n))
                };
                let lower = [Tier::Trim, Tier::Base].map(|t| self.version(t));
                lower.iter().flat_map(|v| v.lines.iter().filter(odd).map(|l| l.text.clone())).collect()
            }
            other => return self.of_shape(other).or_else(|| self.side_by_side(other)),
        })
    }

    fn of_shape(&self, check: &Check) -> Option<Vec<String>> {
        Some(match check {
            Check::Units => self
                .texts()
                .into_iter()
                .chain(self.plan.members.iter().flat_map(|m| &m.personal).cloned())
                .filter(|t| short_machine(t))
                .collect(),
            Check::VersionMove { tier, has, not } => {
                let moves: Vec<&String> = self.version(*tier).lines.iter().map(|l| &l.movement).collect();
                let missing = has.as_ref().is_some_and(|h| !moves.iter().any(|m| h.contains(m)));
                let wrong = not.as_ref().is_some_and(|n| moves.iter().any(|m| n.contains(m)));
                if missing || wrong { moves.into_iter().cloned().collect() } else { Vec::new() }
            }
            Check::SameMinutes => {
                let mut all: Vec<_> = self.versions().iter().map(|v| v.seconds).collect();
                all.dedup();
                if all.len() > 1 { vec![format!("{all:?}")] } else { Vec::new() }
            }
            Check::SameRounds => {
                let mut all: Vec<_> = self.versions().iter().map(|v| v.rounds).collect();
                all.dedup();
                if all.len() > 1 { vec![format!("{all:?}")] } else { Vec::new() }
            }
            _ => return None,
        })
    }

    fn side_by_side(&self, check: &Check) -> Option<Vec<String>> {
        let steps = [(Tier::Full, Tier::Trim), (Tier::Trim, Tier::Base)]
            .map(|(a, b)| (self.version(a), self.version(b)));
        let from_full = [Tier::Trim, Tier::Base].map(|t| (self.version(Tier::Full), self.version(t)));
        Some(match check {
            Check::VersionsDiffer => {
                let text = |v: &VersionAnswer| v.lines.iter().map(|l| l.text.clone()).collect::<Vec<_>>();
                let same = |(a, b): &(&VersionAnswer, &VersionAnswer)| {
                    text(a) == text(b) && a.rounds == b.rounds && a.seconds == b.seconds
                };
                steps.into_iter().filter(same).map(|(_, b)| b.says.clone()).collect()
            }
            Check::NotHarder => {
                let harder = |(a, b): &(&LineAnswer, &LineAnswer)| {
                    let alike = load_of(&a.movement) == load_of(&b.movement);
                    alike && a.load_kg.zip(b.load_kg).is_some_and(|(a, b)| b[0] > a[0] + 0.01)
                };
                steps
                    .iter()
                    .flat_map(|(a, b)| Self::pairs(a, b))
                    .filter(harder)
                    .map(|(_, b)| b.text.clone())
                    .collect()
            }
            Check::VersionCountMin { share } => {
                let less = |(f, b): &(&LineAnswer, &LineAnswer)| {
                    let counts = each(&f.count).zip(each(&b.count));
                    f.movement == b.movement && counts.is_some_and(|(f, b)| b < share * f - 1e-6)
                };
                from_full
                    .iter()
                    .flat_map(|(a, b)| Self::pairs(a, b))
                    .filter(less)
                    .map(|(_, b)| b.text.clone())
                    .collect()
            }
            Check::Distances => from_full.iter().flat_map(|(a, b)| order_lost(&Self::pairs(a, b))).collect(),
            _ => return None,
        })
    }

    /// Versions with several bars, or with a bar and something else for what the same hands hold.
    fn mixed_bars(&self) -> Vec<String> {
        let full = self.version(Tier::Full);
        let at: Vec<usize> = (0..full.lines.len())
            .filter(|i| load_of(&full.lines[*i].movement) == LoadKind::Barbell)
            .collect();
        let mixed = |v: &&VersionAnswer| {
            let lines: Vec<&LineAnswer> = at.iter().filter_map(|i| v.lines.get(*i)).collect();
            let kinds: Vec<LoadKind> = lines.iter().map(|l| load_of(&l.movement)).collect();
            let mut kg: Vec<[f64; 2]> = lines
                .iter()
                .filter(|l| load_of(&l.movement) == LoadKind::Barbell)
                .filter_map(|l| l.load_kg)
                .collect();
            kg.dedup();
            let hands = [LoadKind::Dumbbell, LoadKind::DumbbellPair, LoadKind::Kettlebell];
            kg.len() > 1 || (kinds.contains(&LoadKind::Barbell) && kinds.iter().any(|k| hands.contains(k)))
        };
        self.versions().into_iter().filter(mixed).map(|v| v.says.clone()).collect()
    }
}

/// Distances that are no longer in the order of the sheet, and runs that are not in hundreds.
fn order_lost(pairs: &[(&LineAnswer, &LineAnswer)]) -> Vec<String> {
    let runs: Vec<(&LineAnswer, f64, f64)> = pairs
        .iter()
        .filter(|(a, b)| a.unit == Unit::Metres && a.movement == b.movement)
        .filter_map(|(a, b)| Some((*b, each(&a.count)?, each(&b.count)?)))
        .collect();
    let mut out: Vec<String> = runs
        .iter()
        .filter(|(b, _, n)| b.movement == "run" && n % 100.0 != 0.0)
        .map(|(b, ..)| b.text.clone())
        .collect();
    for (i, (a, f, n)) in runs.iter().enumerate() {
        for (b, g, m) in runs.iter().skip(i + 1).filter(|(b, ..)| b.movement == a.movement) {
            if f.total_cmp(g) != n.total_cmp(m) {
                out.push(format!("{} and {}", a.text, b.text));
            }
        }
    }
    out
}
