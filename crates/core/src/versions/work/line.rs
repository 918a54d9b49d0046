//! One line of work: a movement, its counts and its weight.

use crate::movement::{LoadKind, catalogue, say::Held, say::line_text};
use crate::sheet::{PercentBase, When};
use crate::units::{Standard, Unit, WeightUnit};
use serde::{Deserialize, Serialize};

/// Weight of a line.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Weight {
    /// kg of one implement, [heavier, lighter].
    Kg([f64; 2]),
    /// Per cent of a maximum: every member's own weight.
    Percent {
        /// Per cent.
        percent: f64,
        /// Of what.
        of: PercentBase,
    },
}

/// A weight as the sheet has it.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct OnSheet {
    /// kg of one implement, [heavier, lighter].
    pub kg: [f64; 2],
    /// The unit in which it was typed.
    pub typed: WeightUnit,
}

/// A further movement done with each pass of a line.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Along {
    /// Catalogue id.
    pub movement: String,
    /// As the counts of its line.
    pub counts: Vec<[f64; 2]>,
}

/// One line of work.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Line {
    /// Catalogue id.
    pub movement: String,
    /// How it differs from the plain movement.
    pub variant: Option<String>,
    /// Part of the work that it belongs to.
    pub part: usize,
    /// Around the list of its part, and when; `None`: in the list.
    pub around: Option<When>,
    /// What stands above it where a later part begins: `rest 2:00, then once through`; else empty.
    pub lead: String,
    /// One entry for all rounds, or one for each number of a scheme; none where it is done as much as possible.
    pub counts: Vec<[f64; 2]>,
    /// More each round, in the line's unit.
    pub rise: f64,
    /// What they count.
    pub unit: Unit,
    /// Half on each side.
    pub per_side: bool,
    /// Weight, where one is held.
    pub weight: Option<Weight>,
    /// The sheet gave no weight: the movement's usual one is taken.
    pub weight_assumed: bool,
    /// The unit in which its weights are spoken of: the sheet's, the hall's once they are of the hall's stock.
    pub speaks: WeightUnit,
    /// What the sheet says, where the hall cannot build it.
    pub on_sheet: Option<OnSheet>,
    /// Implements held.
    pub implements: u8,
    /// cm.
    pub height_cm: Option<[f64; 2]>,
    /// Must not be broken.
    pub unbroken: bool,
    /// May be left out.
    pub optional: bool,
    /// Done with it.
    pub along: Vec<Along>,
    /// The written movement that it stands for, where it is another.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub stands_for: Option<String>,
}

/// When work around a list is done, as it stands before the line.
fn around_words(when: When) -> String {
    match when {
        When::BuyIn => "buy-in:".to_owned(),
        When::CashOut => "cash-out:".to_owned(),
        When::AfterRound(n) => format!("after round {n}:"),
        When::EachRoundMore => "each round add".to_owned(),
        When::OnTheClock { every_s: 60, .. } => "every minute:".to_owned(),
        When::OnTheClock { every_s, .. } => format!("every {}:", crate::units::clock(f64::from(every_s))),
        When::OnBreak => "every break:".to_owned(),
    }
}

impl Line {
    /// The weight in kg of one implement as written, where it is the same for all of a standard.
    pub fn kg(&self) -> Option<[f64; 2]> {
        match &self.weight {
            Some(Weight::Kg(kg)) => Some(*kg),
            _ => None,
        }
    }

    /// How many implements count together for the load of the whole movement.
    pub fn held(&self) -> f64 {
        let pair = catalogue().movement(&self.movement).is_some_and(|m| m.load == LoadKind::DumbbellPair);
        f64::from(self.implements.max(if pair { 2 } else { 1 }))
    }

    /// The count of a round, for one standard.
    pub fn count(&self, round: usize, standard: Standard) -> f64 {
        self.counts.get(round).or(self.counts.last()).map_or(0.0, |c| standard.of(*c))
    }

    /// The largest count of any round, heavier standard.
    pub fn largest(&self) -> f64 {
        self.counts.iter().map(|c| c[0]).fold(0.0, f64::max)
    }

    /// The line in words for both standards.
    pub fn text(&self) -> String {
        self.text_with(self.counts.clone(), self.kg(), false)
    }

    /// The line in words for one standard, with its own figures only.
    pub fn text_for(&self, standard: Standard) -> String {
        let one = |p: [f64; 2]| [standard.of(p); 2];
        self.text_with(self.counts.iter().map(|c| one(*c)).collect(), self.kg().map(one), false)
    }

    /// For a place of few words: the weight without its unit, nothing of how the movement differs.
    pub fn short_text(&self) -> String {
        Line { variant: None, ..self.clone() }.text_with(self.counts.clone(), self.kg(), true)
    }

    fn text_with(&self, counts: Vec<[f64; 2]>, kg: Option<[f64; 2]>, bare: bool) -> String {
        let implements = if self.held() > 1.0 { 2 } else { 1 };
        let held = kg.map(|kg| Held { kg, implements, unit: self.speaks, bare });
        let mut out = line_text(&self.movement, &counts, self.unit, self.per_side, held, self.height_cm);
        if self.rise != 0.0 {
            let sign = if self.rise < 0.0 { "-" } else { "+" };
            let rise = format!(" ({sign}{})", crate::units::plain(self.rise.abs()));
            out.insert_str(out.find(' ').unwrap_or(out.len()), &rise);
        }
        if let Some(Weight::Percent { percent, .. }) = &self.weight {
            out.push_str(&format!(" at {} %", crate::units::plain(*percent)));
        }
        if let Some(v) = &self.variant {
            out.push_str(&format!(" ({v})"));
        }
        for a in &self.along {
            let more = line_text(&a.movement, &a.counts, Unit::Reps, false, None, None);
            out.push_str(&format!(" and {more}"));
        }
        match self.around {
            None => out,
            Some(when) => format!("{} {out}", around_words(when)),
        }
    }
}
