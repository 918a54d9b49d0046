//! Every set's weight for one member: percentage and base into a weight that the gym's plates can build.

use super::base::{Base, base_for};
use super::one_rep_max::percent_for_reps;
use super::ramp::ramp;
use crate::kit::{Kit, Loadable, Loaded};
use crate::movement::{LoadKind, catalogue};
use crate::pacing::Level;
use crate::roster::Member;
use crate::settings::Settings;
use crate::sheet::{LiftSets, PercentBase};
use crate::units::{Provenance, Standard, plain};
use chrono::NaiveDate;

/// Newer members stay under this per cent of what is estimated.
const NEWER_MOST_PERCENT: f64 = 70.0;
/// Reps that everybody lifting by feel leaves.
const FEEL_RESERVE: u32 = 3;

/// All weights of all bars of a kit, worked out once for a class.
#[derive(Debug, Clone)]
pub struct Bars(Vec<Loadable>);

impl Bars {
    /// Works out every bar.
    pub fn of(kit: &Kit) -> Bars {
        let mut sizes: Vec<f64> = kit.bars.iter().filter(|b| b.count > 0).map(|b| b.size).collect();
        sizes.sort_by(f64::total_cmp);
        sizes.dedup();
        Bars(sizes.into_iter().map(|kg| Loadable::of(kit, kg)).collect())
    }

    /// The bar for a member and a load: the standard's own, a lighter one when the load is under 1.35 of it.
    pub fn choose(&self, standard: Standard, kg: f64) -> Option<&Loadable> {
        let usual: f64 = match standard {
            Standard::Heavier => 20.0,
            Standard::Lighter => 15.0,
        };
        let wish = [20.0, 15.0, 10.0].into_iter().find(|b| *b <= usual && kg >= 1.35 * b).unwrap_or(10.0);
        self.0.iter().min_by(|a, b| (a.bar_kg - wish).abs().total_cmp(&(b.bar_kg - wish).abs()))
    }
}

/// One set of a member.
#[derive(Debug, Clone, PartialEq)]
pub struct SetLoad {
    /// Reps.
    pub reps: u32,
    /// Per cent of the base after rounding to what can be loaded; `None` without a base.
    pub percent: Option<f64>,
    /// kg: the bar with plates, or one implement.
    pub load_kg: f64,
    /// Bar, kg; 0 without one.
    pub bar_kg: f64,
    /// Plates on one side, heaviest first.
    pub per_side_kg: Vec<f64>,
    /// Leads up to the work.
    pub warm_up: bool,
}

/// A lift of one member.
#[derive(Debug, Clone, PartialEq)]
pub struct MemberLift {
    /// Catalogue id of what is done.
    pub lift: String,
    /// What the percentages are of.
    pub base: Base,
    /// In order.
    pub sets: Vec<SetLoad>,
    /// Why it differs from the sheet.
    pub reasons: Vec<String>,
    /// What the coach must settle.
    pub open: Vec<String>,
}

impl MemberLift {
    /// The working sets.
    pub fn working(&self) -> impl Iterator<Item = &SetLoad> {
        self.sets.iter().filter(|s| !s.warm_up)
    }

    /// First working weight, kg; 0 without one.
    pub fn first_kg(&self) -> f64 {
        self.working().next().map_or(0.0, |s| s.load_kg)
    }

    /// Its bar, kg.
    pub fn bar_kg(&self) -> f64 {
        self.working().next().map_or(0.0, |s| s.bar_kg)
    }
}

/// What a set should weigh: low and high end and the wish between them, per cent of the base.
#[derive(Debug, Clone, Copy, PartialEq)]
struct Wanted {
    low: f64,
    high: f64,
    wish: f64,
}

fn wanted(lift: &LiftSets, i: usize, reps: u32) -> (Wanted, bool) {
    let n = lift.reps.len();
    let exact = |p: f64| Wanted { low: p, high: p, wish: p };
    let Some(p) = &lift.percent else {
        // by feel: what leaves 3 in reserve; with "add weight" down to 1 on the last set
        let climb = if lift.add_weight && n > 1 { 2.0 * i as f64 / (n - 1) as f64 } else { 0.0 };
        let reserve = FEEL_RESERVE - climb.round() as u32;
        return (exact(percent_for_reps(reps + reserve)), true);
    };
    let w = match (p.band, p.values.as_slice()) {
        (true, [low, high]) => match lift.last_at_top {
            Some(k) if i >= n.saturating_sub(k as usize) => Wanted { low: *low, high: *high, wish: *high },
            Some(k) => {
                let climbing = n.saturating_sub(k as usize).max(1) as f64;
                Wanted { low: *low, high: *high, wish: low + (high - low) * i as f64 / climbing }
            }
            None => Wanted { low: *low, high: *high, wish: (low + high) / 2.0 },
        },
        (_, values) => exact(values.get(i).or(values.last()).copied().unwrap_or(70.0)),
    };
    (w, false)
}

/// The weights of one member for the sets of a lift.
pub fn prescribe(
    member: &Member,
    lift: &LiftSets,
    kit: &Kit,
    bars: &Bars,
    settings: &Settings,
    today: NaiveDate,
) -> Option<MemberLift> {
    let (id, reason) = lift_for(member, lift.movement.id()?);
    let of = lift.percent.as_ref().map_or(&PercentBase::Unsaid, |p| &p.of);
    let mut out = MemberLift {
        base: base_for(member, &id, of, settings, today),
        lift: id.clone(),
        sets: Vec::new(),
        reasons: reason.into_iter().collect(),
        open: Vec::new(),
    };
    let newer =
        member.is_newer() || (member.level == Level::New && out.base.provenance != Provenance::Tested);
    let limit = (newer && lift.percent.is_some()).then_some(NEWER_MOST_PERCENT);
    let barbell = catalogue().movement(&id).is_some_and(|m| m.load == LoadKind::Barbell);
    let mut missed = false;
    for (i, reps) in lift.reps.iter().enumerate() {
        let (mut w, feel) = wanted(lift, i, *reps);
        if let Some(most) = limit.filter(|most| w.wish > *most) {
            w = Wanted { low: most - 10.0, high: most, wish: most };
        }
        let tempo = lift.tempo.map_or(1.0, |t| (1.0 - 0.04 * (f64::from(t.0[0]) - 1.0).max(0.0)).max(0.85));
        let kg = |p: f64| out.base.kg * p / 100.0 * tempo;
        let fixed = lift.kg.map(|pair| member.standard.of(pair));
        let wish = fixed.unwrap_or_else(|| kg(w.wish));
        let set = if barbell {
            let bar = bars.choose(member.standard, wish);
            let exact = fixed.is_some() || feel || w.high - w.low < 0.01;
            let found = bar.and_then(|b| pick(b, exact, kg(w.low), kg(w.high), wish));
            missed |= found.is_some_and(|(_, inside)| !inside);
            found.map(|(l, _)| of_loaded(l, *reps, &out.base))
        } else {
            implement(kit, &id, wish).map(|k| SetLoad {
                reps: *reps,
                percent: None,
                load_kg: k,
                bar_kg: 0.0,
                per_side_kg: Vec::new(),
                warm_up: false,
            })
        };
        out.sets.extend(set);
    }
    say(&mut out, member, lift, newer, missed);
    if barbell {
        add_ramp(&mut out, bars, member);
    }
    Some(out)
}

fn pick(bar: &Loadable, exact: bool, low: f64, high: f64, wish: f64) -> Option<(&Loaded, bool)> {
    if exact { bar.nearest(wish).map(|w| (w, true)) } else { bar.inside(low, high, wish) }
}

fn of_loaded(l: &Loaded, reps: u32, base: &Base) -> SetLoad {
    let percent = (base.kg > 0.0).then(|| l.kg / base.kg * 100.0);
    SetLoad {
        reps,
        percent,
        load_kg: l.kg,
        bar_kg: l.bar_kg,
        per_side_kg: l.per_side.clone(),
        warm_up: false,
    }
}

fn implement(kit: &Kit, id: &str, wish: f64) -> Option<f64> {
    match catalogue().movement(id)?.load {
        LoadKind::DumbbellPair => Kit::nearest(&kit.dumbbells, wish / 2.0, 2),
        LoadKind::Dumbbell => Kit::nearest(&kit.dumbbells, wish, 1),
        LoadKind::Kettlebell => Kit::nearest(&kit.kettlebells, wish, 1),
        LoadKind::Medball => Kit::nearest(&kit.balls, wish, 1),
        _ => None,
    }
}

fn say(out: &mut MemberLift, member: &Member, lift: &LiftSets, newer: bool, missed: bool) {
    if newer && lift.percent.is_some() {
        let why = match member.sessions_logged {
            Some(n) if n < 8 => format!("{n} sessions logged, under 8"),
            _ => "No tested lift yet".to_owned(),
        };
        let lift = catalogue().name(&out.lift).to_lowercase();
        out.reasons.push(format!("{why}: {lift} at most 70 %, tempo 3-1-1-0, 3 reps left in reserve."));
    }
    if out.base.provenance == Provenance::Assumed {
        out.reasons.push(
            "No lift is known: these weights are a ceiling. Start lighter and stop with 3 reps left."
                .to_owned(),
        );
    }
    if out.base.old {
        out.reasons.push("The lift behind this is over 12 weeks old.".to_owned());
    }
    if missed {
        out.open.push(
            "No weight inside the band can be built with your plates; the next below is taken.".to_owned(),
        );
    }
    if out.sets.is_empty() && !lift.reps.is_empty() {
        out.open.push(
            "The kit has no bar or implement for this lift. Choose another or add it on the kit page."
                .to_owned(),
        );
    }
    let first = out.working().next().cloned();
    if let (Some(every), Some(first)) = (lift.every_s, first) {
        let rest = f64::from(every) - super::time::set_time(&out.lift, first.reps, lift.tempo);
        if rest < 60.0 && first.percent.is_some_and(|p| p > 80.0) {
            out.open.push(format!(
                "Every {} leaves {} of rest at {} %: too short above 80 %.",
                crate::units::clock(f64::from(every)),
                crate::units::clock(rest),
                plain(first.percent.unwrap_or(0.0).round())
            ));
        }
    }
}

fn add_ramp(out: &mut MemberLift, bars: &Bars, member: &Member) {
    let Some(first) = out.sets.first().cloned() else { return };
    let Some(bar) =
        bars.choose(member.standard, first.load_kg).filter(|b| (b.bar_kg - first.bar_kg).abs() < 0.01)
    else {
        return;
    };
    let heavy = first.reps == 1 && first.percent.is_some_and(|p| p > 90.0);
    let base = out.base.clone();
    let steps = ramp(bar, first.load_kg, first.reps, heavy)
        .into_iter()
        .map(|(reps, w)| SetLoad { warm_up: true, ..of_loaded(&w, reps, &base) });
    out.sets.splice(0..0, steps);
}

/// The lift that a member does: the sheet's, or where a limit rules it out the first on its ladder that none does.
fn lift_for(member: &Member, id: &str) -> (String, Option<String>) {
    let rules_out = |m: &str| catalogue().movement(m).and_then(|m| member.limit_against(&m.avoid_with));
    let Some(limit) = rules_out(id) else { return (id.to_owned(), None) };
    let instead =
        catalogue().ladder_for(id).into_iter().flat_map(|l| &l.rungs).map(|r| r.movement.as_str()).find(
            |m| {
                *m != id
                    && rules_out(m).is_none()
                    && catalogue().movement(m).is_some_and(|m| m.load != LoadKind::None)
            },
        );
    match instead {
        Some(m) => {
            let name = |id: &str| catalogue().name(id).to_lowercase();
            (m.to_owned(), Some(format!("{} instead of {}: it spares the {limit}.", name(m), name(id))))
        }
        None => (
            id.to_owned(),
            Some(format!(
                "The {limit} limit speaks against this lift and no replacement is on its ladder: settle it together."
            )),
        ),
    }
}
