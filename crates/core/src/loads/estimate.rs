//! What a member's 1RM of a lift is thought to be: their own newest lift by itself, else older ones, related lifts and the
//! level's default weighed by how well each of them says it (own).

use super::one_rep_max::{MOST_REPS, one_rep_max};
use crate::movement::catalogue;
use crate::pacing::table::{Kind, LIFTS, row};
use crate::pacing::{Athlete, Level};
use crate::ratios::{self, mass_factor};
use crate::roster::{Max, Member};
use crate::units::{Provenance, plain};
use chrono::NaiveDate;

/// A lift older than this is marked old.
pub(super) const OLD_DAYS: i64 = 12 * 7;
/// A lift older than this is no base by itself.
pub(super) const VERY_OLD_DAYS: i64 = 26 * 7;
/// What age adds to the spread of a lift older than that.
const VERY_OLD_SD: f64 = 0.08;
/// What a missing date adds to the spread of a lift.
const UNDATED_SD: f64 = 0.05;
/// Spread of a 1RM from 2 reps, what each further rep adds, and what it adds that reps were left by feel.
const REPS_SD: [f64; 3] = [0.024, 0.004, 0.03];
/// Spread of what a set of more than [`MOST_REPS`] says.
const MANY_REPS_SD: f64 = 0.10;
/// Spread between people of a level, and between those who are new.
const LEVEL_SD: f64 = 0.20;
const NEW_SD: f64 = 0.25;
/// What going through a lift that bounds another adds.
const THROUGH_SD: f64 = 0.08;
/// Never surer than this from other lifts.
const LEAST_SD: f64 = 0.05;
/// Related lifts that are weighed.
const MOST_RELATIVES: usize = 3;
/// 1RM of a lift that no table knows, over the back squat.
const STRANGE_SHARE: f64 = 0.4;

/// What a member's 1RM of a lift is thought to be.
#[derive(Debug, Clone, PartialEq)]
pub struct Estimate {
    /// Best guess of the 1RM, kg.
    pub kg: f64,
    /// Relative sd.
    pub sd: f64,
    /// Tested single, or estimated.
    pub provenance: Provenance,
    /// A maximum of this very lift.
    pub single: bool,
    /// In words: `120 kg`, `100 kg x 5`, `from back squat 140 kg`.
    pub words: String,
    /// Day of the newest lift behind it.
    pub date: Option<NaiveDate>,
    /// Not a newer lift of its own: weights take the low side.
    pub related: bool,
    /// Something is known of the lift itself or of its limb.
    pub limb_known: bool,
}

/// One record as it counts.
struct Record {
    kg: f64,
    sd: f64,
    single: bool,
    age: Option<i64>,
    date: Option<NaiveDate>,
    words: String,
    /// More reps than a formula holds for: at least this much, kg.
    least: Option<f64>,
}

impl Record {
    fn of(m: &Max, today: NaiveDate) -> Record {
        let reps = m.reps.saturating_add(m.reserve);
        let single = reps <= 1;
        let words = match (single, m.reserve) {
            (true, _) => format!("{} kg", plain(m.kg)),
            (false, 0) => format!("{} kg x {}", plain(m.kg), m.reps),
            (false, q) => format!("{} kg x {} with {q} left", plain(m.kg), m.reps),
        };
        let [two, each, left] = REPS_SD;
        let many = reps > MOST_REPS;
        let rm = one_rep_max(m.kg, reps.min(MOST_REPS), 0).ok();
        let said = if m.reserve > 0 { left } else { 0.0 };
        let sd = match reps {
            0 | 1 => 0.0,
            _ if many => MANY_REPS_SD,
            r => two + each * f64::from(r - 2) + said,
        };
        Record {
            kg: rm.map_or(m.kg, |rm| rm.kg),
            sd: if m.date.is_none() { sd.hypot(UNDATED_SD) } else { sd },
            single,
            age: m.date.map(|d| (today - d).num_days()),
            date: m.date,
            words: if m.date.is_none() { format!("{words}, undated") } else { words },
            least: rm.filter(|_| many).map(|rm| rm.low),
        }
    }

    fn very_old(&self) -> bool {
        self.age.is_some_and(|a| a > VERY_OLD_DAYS)
    }

    /// With what age adds.
    fn spread(&self) -> f64 {
        if self.very_old() { self.sd.hypot(VERY_OLD_SD) } else { self.sd }
    }

    /// Whether it is a base by itself.
    fn alone(&self) -> bool {
        !self.very_old() && self.least.is_none()
    }
}

/// The member's own record of a lift, the one to use first: recent before old, dated before undated, then singles or rep
/// maxima as the gym's school prefers, then the heaviest.
fn own(member: &Member, lift: &str, today: NaiveDate, singles_first: bool) -> Option<Record> {
    member.maxes.iter().filter(|m| m.lift == lift).map(|m| Record::of(m, today)).max_by(|a, b| {
        let key = |e: &Record| {
            let recent = e.age.is_some_and(|a| a <= OLD_DAYS);
            (e.alone(), recent, e.age.is_some(), e.single == singles_first)
        };
        key(a).cmp(&key(b)).then(a.kg.total_cmp(&b.kg))
    })
}

/// 1RM by the member's own newer lift, kg.
pub(crate) fn own_one_rm(member: &Member, lift: &str, today: NaiveDate) -> Option<f64> {
    own(member, lift, today, true).filter(Record::alone).map(|r| r.kg)
}

/// One thing that speaks of a lift: ln kg, its sd, what it is.
struct Source {
    ln: f64,
    sd: f64,
    words: String,
    date: Option<NaiveDate>,
}

/// Related lifts that speak of this one: the surest of each other limb, those of its own, the surest three in all; and
/// whether one is of its own limb.
fn relatives(member: &Member, lift: &ratios::Lift, today: NaiveDate) -> (Vec<Source>, bool) {
    let new = member.level == Level::New;
    let share = |l: &ratios::Lift| l.share(member.standard, new);
    let mut all: Vec<(ratios::Limb, Source)> = ratios::lifts()
        .iter()
        .filter(|l| l.id != lift.id)
        .filter_map(|l| own(member, &l.id, today, true).map(|r| (l, r)))
        .map(|(l, r)| {
            let sd = lift.spread_from(l, member.standard).hypot(r.spread());
            let words = format!("{} {}", catalogue().name(&l.id).to_lowercase(), r.words);
            (l.limb, Source { ln: (r.kg * share(lift) / share(l)).ln(), sd, words, date: r.date })
        })
        .collect();
    all.sort_by(|a, b| a.1.sd.total_cmp(&b.1.sd).then((a.0 != lift.limb).cmp(&(b.0 != lift.limb))));
    let mut seen = Vec::new();
    all.retain(|(limb, _)| {
        let again = *limb != lift.limb && seen.contains(limb);
        seen.push(*limb);
        !again
    });
    all.truncate(MOST_RELATIVES);
    let of_limb = all.iter().any(|(limb, _)| *limb == lift.limb);
    (all.into_iter().map(|(_, s)| s).collect(), of_limb)
}

fn level_sd(member: &Member) -> f64 {
    if member.level == Level::New { NEW_SD } else { LEVEL_SD }
}

/// Strength by body mass against the level's usual one; 1 without a mass.
pub(crate) fn by_mass(member: &Member) -> f64 {
    let reference = Athlete::of_level(member.standard, member.level).mass;
    member.body_mass_kg.map_or(1.0, |m| mass_factor(m, reference))
}

/// 1RM of the member's level, standard and body mass, kg; without a mass that of the level's usual one.
pub(crate) fn of_level(member: &Member, lift: &str) -> f64 {
    let athlete = Athlete::of_level(member.standard, member.level);
    let factor = by_mass(member);
    let squat = athlete.one_rm_of("back-squat").unwrap_or(athlete.mass);
    let new = member.level == Level::New;
    let by_table = || ratios::lift(lift).map(|l| squat * l.share(member.standard, new));
    let kg = athlete.one_rm_of(lift).or_else(by_table).or_else(|| athlete.one_rm_for(lift));
    kg.unwrap_or(squat * STRANGE_SHARE) * factor
}

/// What is known about a member's 1RM of a lift, from their own lifts or related ones; `None`: nothing.
pub fn estimate(member: &Member, lift: &str, today: NaiveDate) -> Option<Estimate> {
    estimate_with(member, lift, today, true)
}

pub(super) fn estimate_with(
    member: &Member,
    lift: &str,
    today: NaiveDate,
    singles_first: bool,
) -> Option<Estimate> {
    let own = own(member, lift, today, singles_first);
    if let Some(r) = own.as_ref().filter(|r| r.alone()) {
        let tested = r.single && r.date.is_some();
        return Some(Estimate {
            kg: r.kg,
            sd: r.sd,
            provenance: if tested { Provenance::Tested } else { Provenance::Estimated },
            single: r.single,
            words: r.words.clone(),
            date: r.date,
            related: false,
            limb_known: true,
        });
    }
    let (mut sources, of_limb) = match ratios::lift(lift) {
        Some(l) => relatives(member, l, today),
        None => (Vec::new(), false),
    };
    let through = ratios::lift(lift).is_none().then(|| through_anchor(member, lift, today)).flatten();
    let limb_known = of_limb || own.is_some() || through.as_ref().is_some_and(|e| e.limb_known);
    let least = own.as_ref().and_then(|r| r.least);
    if let Some(r) = own {
        let words = format!("its own {}", r.words);
        let words = if r.very_old() { format!("{words}, over 26 weeks old") } else { words };
        sources.insert(0, Source { ln: r.kg.ln(), sd: r.spread(), words, date: r.date });
    }
    let prior_sd = level_sd(member);
    match through {
        Some(e) if sources.is_empty() => return Some(e),
        Some(e) => sources.push(Source { ln: e.kg.ln(), sd: e.sd, words: e.words, date: e.date }),
        None if sources.is_empty() => return None,
        None => {}
    }
    Some(weigh(&sources, of_level(member, lift).ln(), prior_sd, least, limb_known))
}

/// The sources and the level's default, each by 1 / sd².
fn weigh(sources: &[Source], prior_ln: f64, prior_sd: f64, least: Option<f64>, limb_known: bool) -> Estimate {
    let weight = |sd: f64| 1.0 / sd.max(0.01).powi(2);
    let (mut sum, mut all) = (weight(prior_sd) * prior_ln, weight(prior_sd));
    for s in sources {
        sum += weight(s.sd) * s.ln;
        all += weight(s.sd);
    }
    let kg = (sum / all).exp();
    let names: Vec<&str> = sources.iter().map(|s| s.words.as_str()).collect();
    Estimate {
        kg: least.map_or(kg, |l| kg.max(l)),
        sd: (1.0 / all.sqrt()).max(LEAST_SD),
        provenance: Provenance::Estimated,
        words: format!("from {}", names.join(" and ")),
        date: sources.iter().filter_map(|s| s.date).max(),
        related: true,
        single: false,
        limb_known,
    }
}

/// Lifts outside the table (hang power clean, dumbbell work) through the lifts that bound them.
fn through_anchor(member: &Member, lift: &str, today: NaiveDate) -> Option<Estimate> {
    let Kind::Load(anchors) = &row(lift)?.kind else { return None };
    let mut known = false;
    let bounds: Vec<(f64, &str, Option<Estimate>)> = anchors
        .iter()
        .filter_map(|(i, q)| {
            let anchor = LIFTS.get(*i)?;
            let e = if *anchor == lift { None } else { estimate(member, anchor, today) };
            known |= e.is_some();
            let kg = e.as_ref().map_or_else(|| of_level(member, anchor), |e| e.kg);
            Some((kg * q, *anchor, e))
        })
        .collect();
    let (kg, anchor, e) = bounds.into_iter().filter(|_| known).min_by(|a, b| a.0.total_cmp(&b.0))?;
    let prior_sd = level_sd(member);
    let words = e.as_ref().map_or_else(|| "from the level's default".to_owned(), |e| e.words.clone());
    let words = match e.as_ref().filter(|e| !e.related) {
        Some(_) => format!("from {} {words}", catalogue().name(anchor).to_lowercase()),
        None => words,
    };
    Some(Estimate {
        kg,
        sd: e.as_ref().map_or(prior_sd, |e| e.sd).hypot(THROUGH_SD),
        provenance: Provenance::Estimated,
        words,
        date: e.as_ref().and_then(|e| e.date),
        related: true,
        single: false,
        limb_known: e.is_some_and(|e| e.limb_known),
    })
}
