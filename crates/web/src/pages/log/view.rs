//! How the log looks: a row for each member of each scored block, what was just said, what has no block any more.

use super::{Typed, scored};
use crate::class_page::ClassPage;
use crate::day::on_clock;
use crate::draw::lane::{Axis, Range};
use crate::error::WebError;
use crate::frame::Frame;
use crate::session::Who;
use askama::Template;
use chrono_tz::Tz;
use lantern_core::held::{Judged, board_reps, judge};
use lantern_core::learning::{LeftOut, asked, left_out_words};
use lantern_core::logbook::Outcome;
use lantern_core::plan::{PlanAnswer, PredictionAnswer};
use lantern_core::sheet::{Block, Score};
use lantern_core::stimulus::Stimulus;
use lantern_core::units::{Standard, clock, plain};
use lantern_core::versions::{PredictionUnit, Tier};
use lantern_store::cut::Taken;
use lantern_store::learning::left_out;
use lantern_store::logbook::{Changed, Kept, Logged};
use lantern_store::{Connection, MemberId, logbook};

const LANE: f64 = 35.0;

/// The log of a class.
#[derive(Template)]
#[template(path = "log/page.html")]
pub(super) struct LogPage {
    frame: Frame,
    base: String,
    /// A workout is scored by its time: names can be tapped at its finish.
    by_time: bool,
    nobody: bool,
    line: LineView,
    pub tally: String,
    said: Option<Said>,
    blocks: Vec<BlockView>,
    homeless: Vec<Homeless>,
    /// Results that cannot be read any more.
    lost: usize,
    held: bool,
}

/// What a script swaps after a change: the row, the line, the tally and what is said.
#[derive(Template)]
#[template(path = "log/part.html")]
pub(super) struct LogPart {
    base: String,
    csrf: String,
    notes: Vec<String>,
    row: Option<(u32, bool, &'static str, RowView)>,
    line: Option<LineView>,
    tally: String,
    said: Option<Said>,
}

/// The field of one line.
#[derive(Clone)]
struct LineView {
    typed: String,
    problem: String,
    /// Workouts that it can be for, where there are several: (id, name, chosen).
    blocks: Vec<(u32, String, bool)>,
    /// Everybody is logged.
    done: bool,
}

/// A change in words, with the way back where it is one of a result.
#[derive(Clone)]
pub(super) struct Said {
    pub words: String,
    change: String,
}

impl Said {
    /// Words without a way back.
    pub fn words(words: String) -> Said {
        Said { words, change: String::new() }
    }

    /// Of a result that is left out of learning, or taken in again.
    pub fn of_learning(why: Option<LeftOut>) -> Said {
        let words = match why {
            Some(why) => format!("Left out of what I learn: {}.", left_out_words(why)),
            None => "I learn from it again.".to_owned(),
        };
        Said::words(words)
    }
}

struct BlockView {
    block: u32,
    name: String,
    what: String,
    tiers: bool,
    placeholder: &'static str,
    axis: String,
    rows: Vec<RowView>,
}

/// A member of a block as it stands in the log.
#[derive(Clone)]
pub(super) struct RowView {
    pub id: String,
    pub name: String,
    pub tiers: Vec<(Tier, bool)>,
    planned: String,
    pub result: String,
    pub problem: String,
    load: String,
    note: String,
    pub logged: bool,
    lane: String,
    pub against: String,
    off: bool,
    inside: bool,
    capped: bool,
    /// What stood here before, and who changed it when.
    trail: String,
    /// It is so far from its range that it is asked about.
    asked: String,
    /// Why it is left out of learning; empty where it is not.
    left_out: &'static str,
}

/// Results whose block is not on the sheet any more.
struct Homeless {
    from: u32,
    what: String,
    count: usize,
    to: Vec<(u32, String)>,
}

impl LogPage {
    /// Rows of a block, in the order of the class; none where it is not scored.
    pub fn rows(&self, block: u32) -> &[RowView] {
        self.blocks.iter().find(|b| b.block == block).map_or(&[], |b| &b.rows)
    }
}

impl LogPart {
    /// Says something else than what was logged last.
    pub fn says(&mut self, said: Said) {
        self.said = Some(said);
    }

    /// Of a whole page: the row that was changed, and the line where the change came from it.
    pub fn of(page: &LogPage, at: Option<(String, u32)>, from_line: bool, said: Option<Said>) -> LogPart {
        let row = at.and_then(|(member, block)| {
            let b = page.blocks.iter().find(|b| b.block == block)?;
            let row = b.rows.iter().find(|r| r.id == member)?.clone();
            Some((block, b.tiers, b.placeholder, row))
        });
        LogPart {
            base: page.base.clone(),
            csrf: page.frame.csrf.clone(),
            notes: page.frame.steps.as_ref().map(|s| s.notes.clone()).unwrap_or_default(),
            row,
            line: from_line.then(|| page.line.clone()),
            tally: page.tally.clone(),
            said,
        }
    }
}

fn form_of(score: Score) -> &'static str {
    match score {
        Score::Time | Score::TimeMinusRest => "10:42",
        Score::RoundsAndReps => "5+12",
        Score::Load => "87.5",
        _ => "142",
    }
}

fn range_of(p: &PredictionAnswer) -> Range {
    Range { low: p.p10, middle: p.p50, high: p.p90, provenance: p.provenance }
}

/// How a result stands in words, and whether it is to be marked.
fn words(s: &Stimulus, judged: Judged) -> (String, bool) {
    match judged {
        Judged::Inside => ("inside".to_owned(), false),
        Judged::Outside(off, side) => (format!("{} {}", s.write(off), side.word()), true),
        Judged::OtherVersion { did, planned } => {
            (format!("did {}, planned {}", did.word(), planned.word()), false)
        }
        Judged::NoRange => ("no range was given".to_owned(), false),
    }
}

/// One block as it is judged.
struct Scene<'a> {
    page: &'a ClassPage,
    /// By where blocks stand.
    plan: &'a PlanAnswer,
    logged: &'a [Logged],
    left_out: &'a [(MemberId, u32, LeftOut)],
    changes: &'a [Changed],
    typed: &'a Typed,
    at: usize,
    id: u32,
    block: &'a Block,
}

impl<'a> Scene<'a> {
    fn stimulus(&self) -> Option<&'a Stimulus> {
        self.page.plan.workouts.iter().find(|w| w.block == self.at)?.stimulus.as_ref()
    }

    fn prediction(&self, member: &str) -> Option<&'a PredictionAnswer> {
        let m = self.plan.members.iter().find(|m| m.id == member)?;
        m.predictions.iter().find(|p| p.block == self.at)
    }

    /// The standard by which the class was held, else today's.
    fn standard(&self, member: &str) -> Standard {
        let held = self.plan.members.iter().find(|m| m.id == member).and_then(|m| m.standard);
        let today = || self.page.plan.members.iter().find(|m| m.id == member).map(|m| m.standard);
        held.or_else(today).unwrap_or(Standard::Heavier)
    }

    /// What was lifted by plan, in kg.
    fn planned(&self, member: usize) -> String {
        let lifts = self.page.plan.strength.iter().filter(|s| s.block == self.at).flat_map(|s| &s.lifts);
        let top = lifts.filter_map(|l| l.of(member)).filter_map(|l| l.working().last());
        let all: Vec<String> = top.map(|s| plain(s.load_kg)).collect();
        if all.is_empty() { String::new() } else { format!("{} kg", all.join(", ")) }
    }

    fn row(&self, i: usize, axis: Option<&Axis>) -> Option<RowView> {
        let m = self.page.plan.members.get(i)?;
        let l = self.logged.iter().find(|l| l.block == self.id && l.member.to_string() == m.id);
        let p = self.prediction(&m.id);
        let back = self.typed.line.is_none() && self.typed.block == self.id && self.typed.member == m.id;
        let back = back.then_some(self.typed);
        let tier = l.map(|l| l.tier).or(p.map(|p| p.tier)).unwrap_or(Tier::Full);
        let tier = back.and_then(|t| Tier::read(&t.tier)).unwrap_or(tier);
        let result = l.and_then(|l| {
            let reps = board_reps(self.plan, self.at, l.tier, self.standard(&m.id)).unwrap_or(1.0);
            l.outcome.compared(p?.unit, p?.cap_s, reps)
        });
        let cut = self.page.cut_of(&m.id, self.id);
        // less was called out to them: the range is of other work
        let judged = l.zip(p).zip(result).map(|((l, p), r)| judge(p, r, l.tier)).filter(|_| cut.is_none());
        let (against, off) = match (judged, self.stimulus(), l) {
            (Some(j), Some(s), _) => words(s, j),
            (_, _, Some(_)) if cut.is_some() => ("after a cut".to_owned(), false),
            (_, _, Some(l)) => (l.outcome.text(), false),
            _ => (String::new(), false),
        };
        let said = if result.is_some() { "with the result" } else { "no result yet" };
        let lane = match (axis, p) {
            (Some(a), Some(p)) if p.scale_this.is_none() => {
                let alt = format!("{}: 80 per cent range, {said}", m.name);
                a.lane(&range_of(p), None, result, LANE, &alt)
            }
            (Some(a), _) => a.empty(LANE),
            _ => String::new(),
        };
        let field = |typed: fn(&Typed) -> &String, kept: String| back.map_or(kept, |t| typed(t).clone());
        Some(RowView {
            id: m.id.clone(),
            name: m.name.clone(),
            tiers: Tier::ALL.map(|t| (t, t == tier)).to_vec(),
            planned: self.planned(i),
            result: field(|t| &t.result, l.map(|l| l.outcome.text()).unwrap_or_default()),
            problem: back.map(|t| t.problem.clone()).unwrap_or_default(),
            load: field(|t| &t.load, l.and_then(|l| l.load_kg).map(plain).unwrap_or_default()),
            note: field(|t| &t.note, l.map(|l| l.note.clone()).unwrap_or_default()),
            logged: l.is_some(),
            lane,
            against,
            off,
            inside: judged == Some(Judged::Inside),
            capped: l.is_some_and(|l| matches!(l.outcome, Outcome::Capped { .. })),
            trail: [
                trail(self.changes, &m.id, self.id, self.page.zone),
                cut.map(said_of_cut).unwrap_or_default(),
            ]
            .into_iter()
            .filter(|t| !t.is_empty())
            .collect::<Vec<_>>()
            .join("; "),
            asked: p
                .zip(result)
                .zip(l)
                .filter(|_| judged.is_some())
                .and_then(|((p, r), l)| self.asked(p, r, l))
                .unwrap_or_default(),
            left_out: self.why_left_out(&m.id),
        })
    }

    /// What is asked about a result that lies far from its range.
    fn asked(&self, p: &PredictionAnswer, result: f64, l: &Logged) -> Option<String> {
        let comparable =
            l.tier == p.tier && p.scale_this.is_none() && !matches!(l.outcome, Outcome::Capped { .. });
        let time = p.unit == PredictionUnit::Seconds;
        comparable.then(|| asked([p.p10, p.p50, p.p90], result, time))?
    }

    fn why_left_out(&self, member: &str) -> &'static str {
        let here = |(m, b, _): &&(MemberId, u32, LeftOut)| *b == self.id && m.to_string() == member;
        self.left_out.iter().find(here).map(|(.., l)| left_out_words(*l)).unwrap_or_default()
    }

    fn view(&self) -> BlockView {
        let members = &self.page.plan.members;
        let ranges: Vec<Range> = members
            .iter()
            .filter_map(|m| self.prediction(&m.id))
            .filter(|p| p.scale_this.is_none())
            .map(range_of)
            .collect();
        let axis = self.stimulus().map(|s| Axis::of(s, &ranges));
        BlockView {
            block: self.id,
            name: name_of(self.block),
            what: match self.stimulus() {
                Some(s) => {
                    let cap = s.cap_s.map(|c| format!(", cap {}", clock(c))).unwrap_or_default();
                    format!("scored by {}{cap}", self.block.scored().words())
                }
                None => "top load, when it differs from the plan".to_owned(),
            },
            tiers: self.block.lifts.is_empty(),
            placeholder: form_of(self.block.scored()),
            axis: axis.as_ref().map(Axis::head).unwrap_or_default(),
            rows: (0..members.len()).filter_map(|i| self.row(i, axis.as_ref())).collect(),
        }
    }
}

fn name_of(b: &Block) -> String {
    let lifts: Vec<String> = b
        .lifts
        .iter()
        .filter_map(|l| l.movement.id())
        .map(|id| lantern_core::movement::catalogue().name(id))
        .collect();
    let plain = || if lifts.is_empty() { "Workout".to_owned() } else { lifts.join(", ") };
    b.name.clone().unwrap_or_else(plain)
}

/// What was called out in the middle of the work, in a row of the log.
fn said_of_cut(t: &Taken) -> String {
    format!("cut at {}: {}", clock(t.passed.at_s), t.shout.says().trim_end_matches('.').to_lowercase())
}

/// When and by whom a row was last changed, where something stood in it before.
fn trail(changes: &[Changed], member: &str, block: u32, zone: Tz) -> String {
    let last = changes.iter().rev().find(|c| c.block == block && c.member.to_string() == member);
    let Some(c) = last else { return String::new() };
    let (at, by) = (on_clock(&c.at, zone).format("%H:%M"), &c.by);
    match (&c.was, &c.became) {
        (Some(was), Some(_)) => format!("{} before, changed {at} by {by}", was.outcome.text()),
        (Some(was), None) => format!("{} taken back {at} by {by}", was.outcome.text()),
        _ => String::new(),
    }
}

/// A change as it is said once it is made: `Maren T. 9:15, 0:12 late; 8:42 before.`
pub(super) fn said(page: &ClassPage, changes: &[Changed], c: &Changed) -> Said {
    let member = c.member.to_string();
    let name = page.plan.members.iter().find(|m| m.id == member).map_or("", |m| m.name.as_str());
    let plan = page.judged_by();
    let text = |k: &Kept| k.outcome.text();
    let words = match (&c.became, &c.was) {
        (Some(now), was) => {
            let now = now.clone().logged(c.member, c.block);
            let against = page.blocks.position(c.block).and_then(|at| {
                let block = page.plan.sheet.blocks.get(at)?;
                let logged = [now.clone()];
                let typed = Typed { block: u32::MAX, ..Typed::default() };
                let scene = Scene {
                    page,
                    plan: &plan,
                    left_out: &[],
                    logged: &logged,
                    changes,
                    typed: &typed,
                    at,
                    id: c.block,
                    block,
                };
                let i = page.plan.members.iter().position(|m| m.id == member)?;
                scene.row(i, None).map(|r| r.against)
            });
            let against = against.filter(|a| !a.is_empty() && *a != now.outcome.text());
            let against = against.map(|a| format!(", {a}")).unwrap_or_default();
            let before = was.as_ref().map(|w| format!("; {} before", text(w))).unwrap_or_default();
            format!("{name} {}{against}{before}.", now.outcome.text())
        }
        (None, Some(was)) => format!("{name}: {} is taken back.", text(was)),
        (None, None) => String::new(),
    };
    Said { words, change: c.id.to_string() }
}

/// How many are logged in each workout, and how they stand.
fn tally(blocks: &[BlockView]) -> String {
    let of = |b: &&BlockView| {
        let count = |f: fn(&RowView) -> bool| b.rows.iter().filter(|r| f(r)).count();
        let (done, inside) = (count(|r| r.logged), count(|r| r.inside));
        let judged = count(|r| r.logged && (r.off || r.inside));
        let capped = count(|r| r.capped);
        format!(
            "{}: {done} of {} logged. Inside their range {inside} of {judged}. Capped {capped}.",
            b.name,
            b.rows.len()
        )
    };
    blocks.iter().filter(|b| b.tiers).map(|b| of(&b)).collect::<Vec<_>>().join(" ")
}

/// Results of blocks that left the sheet, and where they may belong.
fn homeless(page: &ClassPage, logged: &[Logged], blocks: &[BlockView]) -> Vec<Homeless> {
    let mut ids: Vec<u32> =
        logged.iter().map(|l| l.block).filter(|b| page.blocks.position(*b).is_none()).collect();
    ids.sort_unstable();
    let count = |id: u32| logged.iter().filter(|l| l.block == id).count();
    let what = |id: u32| {
        let gone = page.blocks.gone.iter().find(|b| b.id == id)?;
        let moves: Vec<String> =
            gone.looks.movements.iter().map(|m| lantern_core::movement::say::spoken(m)).collect();
        Some(gone.looks.name.clone().unwrap_or_else(|| moves.join(", ")))
    };
    ids.dedup();
    ids.into_iter()
        .map(|from| Homeless {
            from,
            what: what(from).unwrap_or_else(|| "a block that is not known any more".to_owned()),
            count: count(from),
            to: blocks.iter().map(|b| (b.block, b.name.clone())).collect(),
        })
        .collect()
}

/// The whole page.
pub(super) fn page(
    conn: &mut Connection,
    page: &ClassPage,
    who: &Who,
    changes: &[Changed],
    typed: &Typed,
    said: Option<Said>,
) -> Result<LogPage, WebError> {
    let plan = page.judged_by();
    let (logged, lost) = logbook::read(conn, page.gym.id, page.class.id)?;
    let left_out = left_out(conn, page.gym.id, page.class.id)?;
    let mut blocks: Vec<BlockView> = page
        .plan
        .sheet
        .blocks
        .iter()
        .enumerate()
        .filter(|(_, b)| scored(b))
        .filter_map(|(at, block)| {
            let id = page.blocks.id(at)?;
            Some(
                Scene {
                    page,
                    plan: &plan,
                    logged: &logged,
                    left_out: &left_out,
                    changes,
                    typed,
                    at,
                    id,
                    block,
                }
                .view(),
            )
        })
        .collect();
    // workouts first: they are shouted first
    blocks.sort_by_key(|b| !b.tiers);
    let works: Vec<&BlockView> = blocks.iter().filter(|b| b.tiers).collect();
    let open = works.iter().find(|b| b.rows.iter().any(|r| !r.logged)).map(|b| b.block);
    let chosen = works.iter().map(|b| b.block).find(|b| typed.line.is_some() && *b == typed.block).or(open);
    let line = LineView {
        typed: typed.line.clone().unwrap_or_default(),
        problem: typed.line_problem.clone(),
        blocks: if works.len() > 1 {
            works.iter().map(|b| (b.block, b.name.clone(), Some(b.block) == chosen)).collect()
        } else {
            Vec::new()
        },
        done: open.is_none() && !works.is_empty(),
    };
    Ok(LogPage {
        frame: page.frame(who, "log"),
        base: page.base(),
        by_time: !super::finish::timed(page).is_empty(),
        nobody: page.plan.members.is_empty(),
        line,
        tally: tally(&blocks),
        said,
        lost,
        homeless: homeless(page, &logged, &blocks),
        held: page.held() || page.frozen.lost,
        blocks,
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use lantern_core::held::Side;
    use lantern_core::logbook::read_result;

    fn stimulus(text: &str) -> Stimulus {
        let b = lantern_core::sheet::read(text).sheet.blocks[0].clone();
        Stimulus::of_sheet(&b, b.target.unwrap(), None)
    }

    #[test]
    fn a_judgement_is_said_in_the_scores_unit() {
        let s = stimulus("# workout cap 14:00 target 9:00-12:00\nfor time\n9 burpees");
        assert_eq!(words(&s, Judged::Inside), ("inside".to_owned(), false));
        assert_eq!(words(&s, Judged::Outside(13.0, Side::Late)), ("0:13 late".to_owned(), true));
        let other = Judged::OtherVersion { did: Tier::Base, planned: Tier::Trim };
        assert_eq!(words(&s, other), ("did Base, planned Trim".to_owned(), false));
        let s = stimulus("# workout target 5-6 rounds\namrap 12:00\n9 burpees");
        assert_eq!(words(&s, Judged::Outside(0.5, Side::Over)), ("0.5 over".to_owned(), true));
    }

    #[test]
    fn every_score_has_its_example() {
        for s in Score::ALL {
            if s != Score::None {
                assert!(read_result(form_of(s), s, None).is_ok(), "{s:?}: {}", form_of(s));
            }
        }
    }
}
