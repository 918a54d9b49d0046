//! Learns class after class. Every result of a class is compared with what was foretold before any of them; the order of the results
//! in a class changes nothing.

use super::effects::{Effect, Effects};
use super::foretold::{Foretold, Format, Group};
use super::learnt::{Learnt, Times, first_variance};
use super::params::*;
use chrono::{Datelike, Months, NaiveDate};
use std::borrow::Cow;
use std::collections::{BTreeMap, BTreeSet, VecDeque};

/// A result beside what was foretold of it.
#[derive(Debug, Clone, PartialEq)]
pub struct Seen {
    /// Which: a key of the caller's, to find it again by.
    pub of: String,
    /// Whose.
    pub member: String,
    /// What was foretold.
    pub foretold: Foretold,
    /// Later than its middle by so much, in logarithms; see [`super::late`].
    pub late: f64,
    /// The cap ended it.
    pub capped: bool,
    /// The coach left it out: a slip, other work than planned, not a normal day.
    pub left_out: bool,
}

/// Why the coach leaves a result out of learning.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum LeftOut {
    /// Ill, tired, sore: not a normal day.
    OddDay,
    /// Something else was done than planned.
    OtherWork,
    /// All that a member's results had taught was forgotten.
    Forgotten,
}

impl LeftOut {
    /// All.
    pub const ALL: [LeftOut; 3] = [LeftOut::OddDay, LeftOut::OtherWork, LeftOut::Forgotten];

    /// Its key where it is kept.
    pub fn word(self) -> &'static str {
        match self {
            LeftOut::OddDay => "odd-day",
            LeftOut::OtherWork => "other-work",
            LeftOut::Forgotten => "forgotten",
        }
    }

    /// From its key.
    pub fn read(word: &str) -> Option<LeftOut> {
        LeftOut::ALL.into_iter().find(|l| l.word() == word)
    }
}

/// The results of one class.
#[derive(Debug, Clone, PartialEq)]
pub struct Held {
    /// Day.
    pub date: NaiveDate,
    /// Results, one a member and workout.
    pub results: Vec<Seen>,
}

/// A test of a member that speaks of an ability anew.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Retest {
    /// Whose.
    pub member: String,
    /// Day.
    pub date: NaiveDate,
    /// Of what.
    pub group: Group,
}

/// Why a result taught nothing.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Unlearnt {
    /// The coach left it out.
    LeftOut,
    /// Further from its forecast than any believable day.
    TooFar,
    /// It was foretold to end at the cap, and did: nothing new.
    AtCap,
    /// Its forecast has no middle or no width.
    NoForecast,
}

/// What one result did.
#[derive(Debug, Clone, PartialEq)]
pub struct Pull {
    /// Which result, by the caller's key.
    pub of: String,
    /// Whose.
    pub member: String,
    /// Later than what was expected by then by so much, in logarithms.
    pub surprise: f64,
    /// Sds of what was expected.
    pub sds: f64,
    /// Moved the member's forecasts of such work by so much, in logarithms.
    pub moved: f64,
    /// Set where it taught nothing.
    pub unlearnt: Option<Unlearnt>,
}

/// How a member's results have scattered.
#[derive(Debug, Clone, Default)]
struct Scatter {
    squares: f64,
    said: f64,
    done: BTreeMap<(Format, Group), u32>,
    results: u32,
    since: Option<NaiveDate>,
    last: Option<NaiveDate>,
}

impl Scatter {
    /// Their sd over the usual one.
    fn spread(&self) -> f64 {
        let n = f64::from(self.results);
        ((SPREAD_OF + self.squares) / (SPREAD_OF + n)).max(LEAST_SPREAD)
    }

    /// Whether they come back on a day after some time.
    fn away(&self, today: NaiveDate) -> bool {
        self.last.is_some_and(|l| (today - l).num_days() >= AWAY_DAYS)
    }
}

/// What a hall's results have taught so far.
#[derive(Debug, Clone, Default)]
pub struct Learner {
    effects: Effects,
    members: BTreeMap<String, Scatter>,
    retests: Vec<Retest>,
    last: Option<NaiveDate>,
    results: u32,
    /// The latest pulls of each member, oldest first.
    pulls: BTreeMap<String, VecDeque<Pull>>,
}

/// The first day whose results teach somebody who trains on a day: months are whole, so that what was learnt by yesterday is the
/// beginning of what is learnt by today.
pub fn first_day(today: NaiveDate) -> NaiveDate {
    today.with_day(1).and_then(|d| d.checked_sub_months(Months::new(MONTHS))).unwrap_or(NaiveDate::MIN)
}

/// What is kept with plans is rounded to this part.
const MILLION: f64 = 1e6;

/// Pulls of a member that are kept to be shown.
const PULLS: usize = 40;

/// What a result is a sum of.
fn parts(member: &str, format: Format, group: Group) -> [Effect; 6] {
    [
        Effect::Hall,
        Effect::Class,
        Effect::Format(format),
        Effect::Group(group),
        Effect::Member(member.to_owned()),
        Effect::Own(member.to_owned(), group),
    ]
}

impl Learner {
    /// Nothing learnt yet; tests that members did, whenever they were.
    pub fn new(retests: Vec<Retest>) -> Learner {
        Learner { retests, ..Learner::default() }
    }

    /// Everything of a log that teaches who trains on a day, oldest class first.
    pub fn of_log(log: &[Held], retests: Vec<Retest>, today: NaiveDate) -> Learner {
        let mut out = Learner::new(retests);
        for held in log.iter().filter(|h| h.date < today && h.date >= first_day(today)) {
            out.learn(held);
        }
        out
    }

    /// Results that taught something.
    pub fn results(&self) -> u32 {
        self.results
    }

    /// Learns a class's results; what each did.
    pub fn learn(&mut self, held: &Held) -> Vec<Pull> {
        self.pass_to(held);
        let before = self.effects.clone();
        let said: Vec<Said> = held.results.iter().map(|r| self.said(r)).collect();
        let useful: Vec<(&Seen, &Said)> =
            held.results.iter().zip(&said).filter(|(_, s)| s.unlearnt.is_none()).collect();
        // once as it comes, to see what the class shares
        let mut first = before.clone();
        for (r, _) in &useful {
            first.observe(&parts(&r.member, r.foretold.format, r.foretold.group), r.late, r.foretold.noise());
        }
        let shared = |r: &Seen| {
            let of = [
                Effect::Hall,
                Effect::Class,
                Effect::Format(r.foretold.format),
                Effect::Group(r.foretold.group),
            ];
            first.sum(&of).0
        };
        let mut slow: BTreeSet<Effect> = BTreeSet::new();
        for (r, said) in &useful {
            let own = [Effect::Member(r.member.clone()), Effect::Own(r.member.clone(), r.foretold.group)];
            let (expected, unsure) = before.sum(&own);
            let among = r.late - shared(r) - expected;
            let bound = ROBUST_FROM * (unsure + said.noise).sqrt();
            let far = if among.abs() > bound { (among / bound).powi(2) } else { 1.0 };
            let capped = if r.capped { CENSORED } else { 1.0 };
            let of = parts(&r.member, r.foretold.format, r.foretold.group);
            self.effects.observe(&of, r.late, said.noise * far * capped);
            if among > 0.0 {
                slow.extend(own);
            }
            self.note(r, said, held.date);
        }
        self.held_back(&slow, &before);
        self.bounded(&before);
        self.drift(&held.results);
        let pulls: Vec<Pull> = held.results.iter().zip(said).map(|(r, s)| self.pull(r, s, &before)).collect();
        for p in &pulls {
            let kept = self.pulls.entry(p.member.clone()).or_default();
            kept.push_back(p.clone());
            if kept.len() > PULLS {
                kept.pop_front();
            }
        }
        pulls
    }

    /// What the latest results of a member did, oldest first.
    pub fn pulls_of(&self, member: &str) -> impl Iterator<Item = &Pull> {
        self.pulls.get(member).into_iter().flatten()
    }

    /// A new class begins: its own effect is new, and time has passed for who comes back.
    fn pass_to(&mut self, held: &Held) {
        self.effects.restart(&Effect::Class, 0.0);
        let before = self.last.replace(held.date);
        let tested: Vec<Retest> = self
            .retests
            .iter()
            .filter(|t| t.date <= held.date && before.is_some_and(|b| t.date > b))
            .cloned()
            .collect();
        for t in tested {
            self.effects.restart(&Effect::Own(t.member, t.group), TEST_KEEPS);
        }
        let teaching = held.results.iter().filter(|r| !r.left_out);
        let here: BTreeSet<&str> = teaching.map(|r| r.member.as_str()).collect();
        for member in here {
            let scatter = self.members.entry(member.to_owned()).or_default();
            let away = scatter.away(held.date);
            scatter.last = Some(held.date);
            if away {
                self.effects.widen(&Effect::Member(member.to_owned()), AWAY);
            }
        }
    }

    /// What was expected of a result by what is learnt so far, and whether it can teach.
    fn said(&self, r: &Seen) -> Said {
        let scatter = self.members.get(&r.member).map_or(1.0, Scatter::spread);
        let (late, variance) = self.effects.sum(&parts(&r.member, r.foretold.format, r.foretold.group));
        let usual = r.foretold.noise();
        // in sds of the forecast with a usual scatter
        let narrowed = ((variance + usual) / (first_variance() + usual)).sqrt();
        let surprise = r.late - late;
        let sds = surprise / (r.foretold.side(surprise) * narrowed).max(1e-6);
        let unlearnt = if !r.foretold.sound() || !r.late.is_finite() {
            Some(Unlearnt::NoForecast)
        } else if r.left_out {
            Some(Unlearnt::LeftOut)
        } else if r.capped && surprise <= 0.0 {
            Some(Unlearnt::AtCap)
        } else if sds.abs() > ASKED_FROM {
            Some(Unlearnt::TooFar)
        } else {
            None
        };
        Said { surprise, sds, noise: usual * scatter.powi(2), unlearnt }
    }

    /// A result slower than its class moves its member by a share only.
    fn held_back(&mut self, own: &BTreeSet<Effect>, before: &Effects) {
        for effect in own {
            let (was, is) = (before.mean(effect), self.effects.mean(effect));
            self.effects.set_mean(effect, was + SLOW_COUNTS * (is - was));
        }
    }

    fn note(&mut self, r: &Seen, said: &Said, date: NaiveDate) {
        let s = self.members.entry(r.member.clone()).or_default();
        // how late one at the cap would have been is not known: it counts as usual
        s.squares += if r.capped { 1.0 } else { said.sds.powi(2) };
        s.results += 1;
        s.said += 0.5 * (r.foretold.better + r.foretold.worse);
        *s.done.entry((r.foretold.format, r.foretold.group)).or_default() += 1;
        s.since = s.since.or(Some(date));
        self.results += 1;
    }

    /// No class moves anything too far.
    fn bounded(&mut self, before: &Effects) {
        let seen: Vec<Effect> = self.effects.seen().cloned().collect();
        for effect in seen.iter().filter(|e| **e != Effect::Class) {
            let (was, is) = (before.mean(effect), self.effects.mean(effect));
            let most = MOST_STEP * effect.first_sd();
            self.effects.set_mean(effect, was + (is - was).clamp(-most, most));
        }
    }

    /// People change from class to class, a hall a little.
    fn drift(&mut self, results: &[Seen]) {
        if results.is_empty() {
            return;
        }
        let seen: Vec<Effect> = self.effects.seen().cloned().collect();
        for effect in &seen {
            match effect {
                Effect::Hall => self.effects.widen(effect, DRIFT_HALL),
                Effect::Member(_) => self.effects.widen(effect, DRIFT_MEMBER),
                Effect::Own(..) => self.effects.widen(effect, DRIFT_OWN),
                _ => {}
            }
        }
    }

    fn pull(&self, r: &Seen, said: Said, before: &Effects) -> Pull {
        let of = parts(&r.member, r.foretold.format, r.foretold.group);
        let lasting = of.iter().filter(|e| **e != Effect::Class);
        let moved = lasting.map(|e| self.effects.mean(e) - before.mean(e)).sum::<f64>();
        let moved = if said.unlearnt.is_some() { 0.0 } else { moved };
        let Said { surprise, sds, unlearnt, .. } = said;
        Pull { of: r.of.clone(), member: r.member.clone(), surprise, sds, moved, unlearnt }
    }

    /// What moves the forecasts of a member on a day. Everybody's move with the hall's; `None` before any result of the hall. A test since
    /// the last class and time away count from the day on, not from the next result.
    pub fn of(&self, member: &str, today: NaiveDate) -> Option<Learnt> {
        if self.results == 0 {
            return None;
        }
        let effects = self.effects_on(member, today);
        let scatter = self.members.get(member).cloned().unwrap_or_default();
        let known = Format::ALL
            .iter()
            .flat_map(|f| Group::ALL.iter().map(move |g| (*f, *g)))
            .map(|(format, group)| {
                // a new class has an effect of its own, whatever the last one's was
                let lasting = parts(member, format, group).into_iter().filter(|e| *e != Effect::Class);
                let (late, variance) = effects.sum(&lasting.collect::<Vec<_>>());
                [late, variance + CLASS * CLASS].map(|v| (v * MILLION).round() / MILLION)
            })
            .collect();
        let times = |((format, group), times): (&(Format, Group), &u32)| Times {
            format: *format,
            group: *group,
            times: *times,
        };
        Some(Learnt {
            results: scatter.results,
            since: scatter.since,
            spread: scatter.spread(),
            usual_sd: scatter.said / f64::from(scatter.results.max(1)),
            done: scatter.done.iter().map(times).collect(),
            known,
        })
    }

    /// The effects as they are for a member who comes on a day.
    fn effects_on(&self, member: &str, today: NaiveDate) -> Cow<'_, Effects> {
        let since = |date: NaiveDate| date <= today && self.last.is_some_and(|l| date > l);
        let tested: Vec<&Retest> =
            self.retests.iter().filter(|t| t.member == member && since(t.date)).collect();
        let away = self.members.get(member).is_some_and(|s| s.away(today));
        if tested.is_empty() && !away {
            return Cow::Borrowed(&self.effects);
        }
        let mut effects = self.effects.clone();
        for t in tested {
            effects.restart(&Effect::Own(t.member.clone(), t.group), TEST_KEEPS);
        }
        if away {
            effects.widen(&Effect::Member(member.to_owned()), AWAY);
        }
        Cow::Owned(effects)
    }

    /// The hall's own lateness, and that of each format with its sd, in logarithms.
    pub fn of_hall(&self) -> (f64, Vec<(Format, f64, f64)>) {
        let format = |f: &Format| {
            let (late, variance) = self.effects.sum(&[Effect::Hall, Effect::Format(*f)]);
            (*f, late, variance.sqrt())
        };
        (self.effects.mean(&Effect::Hall), Format::ALL.iter().map(format).collect())
    }

    /// How far a member leans by themselves, with its sd, where somebody should test them again: late positive.
    pub fn leans(&self, member: &str) -> Option<f64> {
        let s = self.members.get(member)?;
        let long = (s.last? - s.since?).num_days() >= LEANS_DAYS;
        let (late, variance) = self.effects.sum(&[Effect::Member(member.to_owned())]);
        (long && late.abs() > LEANS * variance.sqrt()).then_some(late)
    }
}

/// What was expected of a result.
struct Said {
    surprise: f64,
    sds: f64,
    noise: f64,
    unlearnt: Option<Unlearnt>,
}
