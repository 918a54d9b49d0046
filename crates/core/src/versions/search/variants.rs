//! The workout without some kit: no barbell, no rig, one dumbbell, at home. Lines are changed to what the kit left allows,
//! and the same search makes the three versions of it. A replacement written on the sheet comes first.

use super::groups::{Room, Versions, make};
use crate::kinds::Gear;
use crate::kit::{Kit, Stock};
use crate::loads::Bars;
use crate::movement::{Cause, Instead, LoadRule, catalogue, say::spoken};
use crate::pacing::{Athlete, Level};
use crate::roster::{Ability, Member};
use crate::schools::SingleDumbbell;
use crate::settings::Settings;
use crate::sheet::{Block, Count, Item, Load, MoveLine, Named, Sheet, When, Wish, print};
use crate::stimulus::Stimulus;
use crate::units::{Standard, Unit};
use crate::versions::predict::quick_score;
use crate::versions::scale::{Hands, change_text, kit_has, replaced_for_both};
use crate::versions::work::{Along, Line, Work, even_up, friendly_counts};

/// What is taken away.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Variant {
    /// No bars and plates.
    NoBarbell,
    /// Nothing to hang from.
    NoRig,
    /// One dumbbell for each standard and the floor.
    OneDumbbell,
    /// The floor, a wall, and one thing that is safe to hold.
    Home,
}

/// One dumbbell of a home or an outing, kg, [heavier, lighter] (own).
const ONE_DUMBBELL_KG: [f64; 2] = [22.5, 15.0];
/// Something safe to hold at home weighs about this, kg, [heavier, lighter] (own).
const AT_HOME_KG: [f64; 2] = [10.0, 8.0];
/// A load lighter than this share of what the rung wants has its reps raised.
const TOO_LIGHT: f64 = 0.85;
/// By how much they may be raised (own).
const RAISED: [f64; 4] = [1.0, 1.2, 1.35, 1.5];
/// What every home has.
const AT_HOME: [Gear; 5] = [Gear::FloorMat, Gear::OpenLane, Gear::Wall, Gear::RunRoute, Gear::LowStep];

impl Variant {
    /// All, in the order in which they are offered.
    pub const ALL: [Variant; 4] = [Variant::NoBarbell, Variant::NoRig, Variant::OneDumbbell, Variant::Home];

    /// The word in addresses and on sheets.
    pub fn word(self) -> &'static str {
        match self {
            Variant::NoBarbell => "no barbell",
            Variant::NoRig => "no rig",
            Variant::OneDumbbell => "one dumbbell",
            Variant::Home => "home",
        }
    }

    /// Heading of its page.
    pub fn heading(self) -> &'static str {
        match self {
            Variant::NoBarbell => "Without a barbell",
            Variant::NoRig => "Without a rig",
            Variant::OneDumbbell => "With one dumbbell",
            Variant::Home => "At home",
        }
    }

    /// From its word.
    pub fn read(text: &str) -> Option<Variant> {
        let low = text.trim().to_lowercase().replace('-', " ");
        Variant::ALL.into_iter().find(|v| v.word() == low)
    }

    /// The kit that is left.
    pub fn kit(self, kit: &Kit) -> Kit {
        let mut left = kit.clone();
        match self {
            Variant::NoBarbell => {
                left.bars.clear();
                left.plates.clear();
            }
            Variant::NoRig => {
                for gone in [Gear::PullUpBar, Gear::Rings, Gear::ClimbingRope] {
                    left.counts.remove(&gone);
                }
            }
            Variant::OneDumbbell | Variant::Home => {
                left = Kit { unit: kit.unit, only: AT_HOME.to_vec(), ..Kit::default() };
                left.only.push(Gear::Dumbbell);
                left.dumbbells = self.held_kg().map(|size| Stock { size, count: 1 }).to_vec();
            }
        }
        left
    }

    /// What the one thing weighs that is held, kg, [heavier, lighter].
    fn held_kg(self) -> [f64; 2] {
        if self == Variant::Home { AT_HOME_KG } else { ONE_DUMBBELL_KG }
    }

    /// Only one thing can be held.
    fn one(self) -> bool {
        matches!(self, Variant::OneDumbbell | Variant::Home)
    }

    /// The cause by which its replacements are found.
    fn cause(self) -> Cause {
        match self {
            Variant::NoBarbell => Cause::NoBarbell,
            Variant::NoRig => Cause::NoRig,
            Variant::OneDumbbell => Cause::OneDumbbell,
            Variant::Home => Cause::Home,
        }
    }
}

/// A workout without some kit.
#[derive(Debug, Clone)]
pub struct Without {
    /// What is taken away.
    pub variant: Variant,
    /// What changes, with why.
    pub changes: Vec<String>,
    /// Its three versions.
    pub made: Versions,
    /// As a block of a sheet.
    pub text: String,
}

/// What a variant is made from.
pub struct From<'a> {
    /// The block as read.
    pub block: &'a Block,
    /// Its work.
    pub written: &'a Work,
    /// What every version keeps.
    pub stimulus: &'a Stimulus,
    /// Who is there.
    pub class: &'a [(&'a Member, &'a Ability)],
    /// The gym's whole kit.
    pub kit: &'a Kit,
    /// Schools.
    pub settings: &'a Settings,
    /// The day.
    pub today: chrono::NaiveDate,
}

/// The workout without some kit; `None` where nothing would change.
pub fn without(variant: Variant, from: &From) -> Option<Without> {
    let kit = variant.kit(from.kit);
    let bars = Bars::of(&kit);
    let hands = Hands { kit: &kit, bars: &bars, stimulus: from.stimulus };
    let said = said_on_sheet(variant, from.block);
    let mut work = from.written.clone();
    let mut changes = Vec::new();
    let mut gone = Vec::new();
    for (i, line) in from.written.lines.iter().enumerate() {
        let on_sheet = said.iter().find(|(at, _)| *at == i).map(|(_, l)| l.clone());
        let missing = !kit_has(&kit, &line.movement);
        if on_sheet.is_none() && !missing {
            continue;
        }
        let new = match on_sheet {
            Some(l) => Some((l, "written on the sheet".to_owned(), None)),
            None => replaced(line, variant, hands, from.settings),
        };
        match new {
            Some((new, why, wanted)) => {
                if let Some(slot) = work.lines.get_mut(i) {
                    let new = Line { around: line.around, lead: line.lead.clone(), part: line.part, ..new };
                    let light =
                        wanted.is_some_and(|w| new.kg().is_some_and(|kg| kg[0] * new.held() < TOO_LIGHT * w));
                    let raised = if light { raise(from, i, &new) } else { new };
                    changes.push(format!("{}: {why}.", change_text(line, &raised).unwrap_or_default()));
                    *slot = raised;
                }
            }
            None => {
                changes.push(format!(
                    "{} is left out: nothing on its ladder does without.",
                    spoken(&line.movement)
                ));
                gone.push(i);
            }
        }
    }
    if changes.is_empty() {
        return None;
    }
    let text = block_text(from.block, &work, &gone, variant);
    for i in gone.into_iter().rev() {
        if work.lines.len() > 1 {
            work.remove(i);
        }
    }
    let work = work.built_with(&kit, &bars);
    let room = Room { kit: &kit, bars: &bars, settings: from.settings, today: from.today };
    let made = make(&work, from.stimulus, from.class, &[], room);
    Some(Without { variant, changes, made, text })
}

fn work_with(work: &Work, i: usize, line: &Line) -> Work {
    let mut out = work.clone();
    if let Some(slot) = out.lines.get_mut(i) {
        slot.clone_from(line);
    }
    out
}

/// Replacements that stand under a line of the sheet: (place of the line in the work, what is done instead).
fn said_on_sheet(variant: Variant, block: &Block) -> Vec<(usize, Line)> {
    let mut swapped = block.clone();
    let mut at = Vec::new();
    for (place, m) in moves_of(&mut swapped).into_iter().enumerate() {
        if let Some((_, instead)) = m.without_kit.iter().find(|(w, _)| w.replace('-', " ") == variant.word())
        {
            at.push(place);
            let count = instead.count.clone().or_else(|| m.count.clone());
            *m = MoveLine { count, without_kit: Vec::new(), ..instead.clone() };
        }
    }
    let Ok(work) = Work::from_block(&swapped) else { return Vec::new() };
    at.into_iter().filter_map(|i| Some((i, work.lines.get(i)?.clone()))).collect()
}

/// Movement lines of a block in the order of the lines of its work.
fn moves_of(block: &mut Block) -> Vec<&mut MoveLine> {
    let mut out = Vec::new();
    for part in &mut block.parts {
        let (early, late): (Vec<_>, Vec<_>) = part.extras.iter_mut().partition(|e| e.when == When::BuyIn);
        out.extend(early.into_iter().map(|e| &mut e.work));
        out.extend(part.items.iter_mut().filter_map(|i| match i {
            Item::Move(m) => Some(m),
            Item::Rest { .. } => None,
        }));
        out.extend(late.into_iter().map(|e| &mut e.work));
    }
    out
}

/// What stands in for a line with the kit that is left, why, and the load in all that it should have (kg, heavier standard).
fn replaced(
    line: &Line,
    variant: Variant,
    hands: Hands,
    settings: &Settings,
) -> Option<(Line, String, Option<f64>)> {
    let there = |t: &Instead| kit_has(hands.kit, &t.to);
    let found = catalogue().instead(&line.movement, &[variant.cause()], there)?.ok()?;
    let mut new = replaced_for_both(line, &found, hands, Some(variant.held_kg()))?;
    let mut why = found.why.trim_end_matches('.').to_lowercase();
    let paired = catalogue().movement(&line.movement).is_some_and(|m| !m.per_side);
    if variant.one() && paired && catalogue().movement(&new.movement).is_some_and(|m| m.per_side) {
        why = sides(&mut new, settings);
    }
    let share = if let LoadRule::Share(x) = found.load { Some(x) } else { None };
    let wanted = line.kg().zip(share).map(|(kg, x)| kg[0] * line.held() * x);
    Some((new, why, wanted))
}

/// One dumbbell: the reps double, the same on each side, or the sides share them, by the hall's school.
fn sides(line: &mut Line, settings: &Settings) -> String {
    if settings.answer::<SingleDumbbell>() == SingleDumbbell::DoublePerSide {
        line.counts = line.counts.iter().map(|c| c.map(|v| v * 2.0)).collect();
        line.per_side = true;
        "one dumbbell, the same reps on each side".to_owned()
    } else {
        line.counts = line.counts.iter().map(|c| c.map(even_up)).collect();
        "one dumbbell, the sides share the reps".to_owned()
    }
}

/// Raises the reps of a line that is too light, as far as brings the regular member back to the time of the work as written.
fn raise(from: &From, i: usize, line: &Line) -> Line {
    if line.unit != Unit::Reps || line.counts.is_empty() {
        return line.clone();
    }
    let athlete = Athlete::of_level(Standard::Heavier, Level::Regular);
    let score = |w: &Work| quick_score(w, Standard::Heavier, &athlete, from.stimulus).score;
    let goal = score(from.written);
    let with = |f: f64| {
        let counts = friendly_counts(&line.movement, &line.counts, f, line.unit);
        Line { counts, ..line.clone() }
    };
    let off = |l: &Line| (score(&work_with(from.written, i, l)) - goal).abs();
    let all: Vec<Line> = RAISED.into_iter().map(with).collect();
    all.into_iter().min_by(|a, b| off(a).total_cmp(&off(b))).unwrap_or_else(|| line.clone())
}

/// What is done along with a line, as a line of its own.
fn along_line(a: &Along) -> MoveLine {
    let count = match a.counts.as_slice() {
        [c] => Count::Each(c[0]),
        many => Count::Scheme(many.iter().map(|c| c[0].round() as u32).collect()),
    };
    MoveLine { count: Some(count), ..MoveLine::of(Named::Known(a.movement.clone()), Unit::Reps, 0) }
}

/// Changes the list that holds the line at a place of the work.
fn change_list(block: &mut Block, place: usize, change: impl FnOnce(&mut Vec<Item>, usize)) {
    let mut at = 0;
    for part in &mut block.parts {
        at += part.extras.iter().filter(|e| e.when == When::BuyIn).count();
        for k in 0..part.items.len() {
            if !matches!(part.items.get(k), Some(Item::Move(_))) {
                continue;
            }
            if at == place {
                return change(&mut part.items, k);
            }
            at += 1;
        }
        at += part.extras.iter().filter(|e| e.when != When::BuyIn).count();
    }
}

/// The variant as a block of a sheet.
fn block_text(block: &Block, work: &Work, gone: &[usize], variant: Variant) -> String {
    let mut out = block.clone();
    let name = out.name.clone().unwrap_or_else(|| "Workout".to_owned());
    out.name = Some(format!("{name}, {}", variant.word()));
    let n = moves_of(&mut out).len();
    if n == work.lines.len() {
        let mut renamed: Vec<(String, String)> = Vec::new();
        for (m, l) in moves_of(&mut out).into_iter().zip(&work.lines) {
            renamed.extend(m.movement.id().map(|old| (old.to_owned(), l.movement.clone())));
            let side = if l.per_side { 2.0 } else { 1.0 };
            m.without_kit.clear();
            if m.movement != Named::Known(l.movement.clone()) {
                m.tempo = None;
                m.height_cm = l.height_cm;
            }
            m.movement = Named::Known(l.movement.clone());
            m.unit = l.unit;
            m.per_side = l.per_side;
            m.load = l.kg().map(|kg| Load::Kg { kg, implements: l.implements, typed: l.speaks });
            m.note = l.variant.clone().or_else(|| m.note.clone());
            m.count = match l.counts.as_slice() {
                [] => m.count.clone(),
                [[a, b]] if (a - b).abs() < 1e-9 => Some(Count::Each(a / side)),
                [[a, b]] => Some(Count::ByStandard([a / side, b / side])),
                many => Some(Count::Scheme(many.iter().map(|c| (c[0] / side).round() as u32).collect())),
            };
        }
        // what is asked of a movement is asked of what stands in for it
        for wish in &mut out.wishes {
            if let Wish::MostSets { movement, .. } | Wish::UnbrokenShare { movement, .. } = wish
                && let Some((_, new)) = renamed.iter().find(|(old, _)| old == movement)
            {
                movement.clone_from(new);
            }
        }
    }
    for (i, l) in work.lines.iter().enumerate().rev() {
        if gone.contains(&i) && work.lines.len() > 1 {
            change_list(&mut out, i, |items, k| drop(items.remove(k)));
        } else {
            for a in l.along.iter().rev() {
                let m = along_line(a);
                change_list(&mut out, i, |items, k| items.insert(k + 1, Item::Move(m)));
            }
        }
    }
    print(&Sheet { blocks: vec![out], ..Sheet::default() })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::roster::ability;
    use crate::sheet::read;
    use crate::stimulus::infer;

    const SHEETS: [&str; 4] = [
        "# workout \"Quay\" cap 14:00 target 9:00-12:00\n3 rounds for time\n30 double-unders\n12 toes-to-bar\n12 power clean 60/42.5 kg\n400 m run",
        "# workout \"Stones\" cap 11:00\n18-14-10 for time\nthruster 35/25 kg\nburpees over the bar",
        "# workout\namrap 12:00\n12/10 cal row\n10 dumbbell push press 2 x 20/12.5 kg\n14 box step-ups 50/50 cm",
        "# workout cap 20:00\nfor time\n40 wall-balls 9/6 kg\n30 overhead kettlebell swings 24/16 kg\n20 pull-ups\n10 muscle-ups",
    ];

    fn made(text: &str, variant: Variant, settings: &Settings) -> Option<Without> {
        let block = read(text).sheet.blocks[0].clone();
        let written = Work::from_block(&block).unwrap();
        let stimulus = infer(&block, &written);
        let members = Member::archetypes();
        let day = chrono::NaiveDate::from_ymd_opt(2026, 11, 24).unwrap();
        let abilities: Vec<Ability> = members.iter().map(|m| ability(m, day)).collect();
        let class: Vec<(&Member, &Ability)> = members.iter().zip(&abilities).collect();
        let from = From {
            block: &block,
            written: &written,
            stimulus: &stimulus,
            class: &class,
            kit: &Kit::usual(),
            settings,
            today: day,
        };
        without(variant, &from)
    }

    #[test]
    fn no_version_of_a_variant_needs_what_is_not_there_and_its_sheet_is_read_again() {
        for variant in Variant::ALL {
            for text in SHEETS {
                let Some(w) = made(text, variant, &Settings::default()) else { continue };
                let left = variant.kit(&Kit::usual());
                for v in &w.made.list {
                    for l in &v.work.lines {
                        let fine = kit_has(&left, &l.movement);
                        assert!(fine, "{} {}: {}", variant.word(), v.tier.word(), l.movement);
                    }
                }
                let again = read(&w.text);
                assert_eq!(again.problems, vec![], "{}", w.text);
                let block = &again.sheet.blocks[0];
                assert!(block.name.as_ref().is_some_and(|n| n.ends_with(variant.word())), "{}", w.text);
                let work = Work::from_block(block).unwrap();
                let ids = |w: &Work| {
                    let of = |l: &Line| {
                        let along = l.along.iter().map(|a| (a.movement.clone(), a.counts.clone()));
                        std::iter::once((l.movement.clone(), l.counts.clone()))
                            .chain(along)
                            .collect::<Vec<_>>()
                    };
                    w.lines.iter().flat_map(of).collect::<Vec<_>>()
                };
                assert_eq!(ids(&work), ids(&w.made.list[0].work), "{}", w.text);
            }
        }
    }

    #[test]
    fn a_replacement_on_the_sheet_comes_first() {
        let text = "# workout cap 14:00\n3 rounds for time\n12 power clean 60/42.5 kg\nno barbell: 14 dumbbell power clean 2 x 22.5/15 kg\n10 burpees";
        let w = made(text, Variant::NoBarbell, &Settings::default()).unwrap();
        assert_eq!(w.made.list[0].work.lines[0].text(), "14 dumbbell power cleans 2 x 22.5/15 kg");
        assert!(w.changes[0].ends_with("written on the sheet."), "{:?}", w.changes);
        let wished = format!("{text}\nsets: power clean <= 2");
        let w = made(&wished, Variant::NoBarbell, &Settings::default()).unwrap();
        assert!(w.text.contains("sets: dumbbell power clean <= 2"), "{}", w.text);
        assert!(
            made("# workout\n3 rounds for time\n10 burpees", Variant::Home, &Settings::default()).is_none()
        );
    }

    #[test]
    fn one_dumbbell_doubles_or_shares_by_the_school() {
        let text = "# workout cap 14:00\n3 rounds for time\n10 dumbbell bench press 2 x 20/12.5 kg\n10 dumbbell front squats 2 x 20/12.5 kg";
        let mut doubled = Settings::default();
        doubled.schools.insert("single-dumbbell-rule".into(), "double-per-side".into());
        let total = |s: &Settings| {
            let w = made(text, Variant::OneDumbbell, s).unwrap();
            w.made.list[0].work.lines.iter().map(Line::largest).fold(0.0, f64::max)
        };
        assert!(
            total(&doubled) > total(&Settings::default()),
            "{} {}",
            total(&doubled),
            total(&Settings::default())
        );
    }
}
