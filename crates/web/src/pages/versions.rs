//! Three versions and every member's place on one axis.

use super::{CautionView, Mark, block_of, cautions, decide, id};
use crate::app::App;
use crate::class_page::{ClassPage, planned};
use crate::draw::lane::{Axis, Range};
use crate::error::{Page, WebError};
use crate::frame::{Frame, html};
use crate::session::{Change, Who, apart};
use actix_web::web::{Data, Path, Query};
use askama::Template;
use lantern_core::kit::Kit;
use lantern_core::plan::{Decision, WorkoutPlan};
use lantern_core::stimulus::Stimulus;
use lantern_core::units::Standard;
use lantern_core::units::in_ten;
use lantern_core::versions::{Candidate, Placed, Prediction, Tier, before_results};
use lantern_store::ClassId;
use serde::Deserialize;

/// A candidate later than so many caps is not given a time.
const FAR_CAPS: f64 = 2.5;
/// Candidates that are shown beside the path.
const MOST_CANDIDATES: usize = 12;

/// Height of a lane, px.
const LANE: f64 = 25.0;

#[derive(Template)]
#[template(path = "plan/versions.html")]
struct VersionsPage {
    frame: Frame,
    base: String,
    works: Vec<Work>,
    cautions: Vec<CautionView>,
    defers: &'static str,
}

struct Work {
    block: usize,
    name: String,
    clock: String,
    waits: Option<String>,
    versions: Vec<VersionView>,
    rows: Vec<Vec<(String, bool)>>,
    guesses: Vec<String>,
    empty: bool,
    range_head: &'static str,
    axis: String,
    groups: Vec<Group>,
    /// How much of the class ends on stimulus, and how that is worked out.
    share: Option<(String, String)>,
    /// Members whose version the coach chose.
    chosen: usize,
    kit_notes: Vec<String>,
    /// How the open version was found.
    search: Option<SearchView>,
}

struct SearchView {
    tier: Tier,
    tried: u32,
    made_for: String,
    path: Vec<CandidateView>,
    others: Vec<CandidateView>,
}

/// A candidate: what differs, what it would give, and why it was taken or not.
struct CandidateView {
    changes: String,
    results: String,
    inside: bool,
    says: String,
}

struct VersionView {
    tier: Tier,
    /// Candidates that were run; 0 for the version as written.
    tried: u32,
    open: bool,
    members: String,
    clock: String,
    made_for: String,
    /// In one sentence.
    says: String,
    changes: Vec<String>,
}

struct Group {
    tier: Tier,
    members: String,
    lane: String,
    rows: Vec<Row>,
}

struct Row {
    id: String,
    name: String,
    open: bool,
    off: bool,
    picks: Vec<(Tier, bool, String)>,
    middle: String,
    mark: Mark,
    range: String,
    chance: String,
    lane: String,
    look: String,
    /// What the middle was before which results; empty where none moved it.
    taught: String,
    reasons: Vec<String>,
    personal: Vec<(String, String, bool)>,
    /// More, for who will be early: the coach's to offer.
    offers: Vec<String>,
    rests_on: String,
}

/// A prediction as a range on an axis.
pub fn range_of(p: &Prediction) -> Range {
    Range { low: p.p10(), middle: p.p50(), high: p.p90(), provenance: p.provenance }
}

/// `5 members`.
pub fn members(n: usize) -> String {
    format!("{n} {}", if n == 1 { "member" } else { "members" })
}

/// `10:47 before 9 results`.
fn taught(was: &str, results: u32) -> String {
    match results {
        0 => format!("{was} before the hall’s results"),
        1 => format!("{was} before 1 result"),
        n => format!("{was} before {n} results"),
    }
}

fn row(page: &ClassPage, w: &WorkoutPlan, s: &Stimulus, axis: &Axis, i: usize, why: &str) -> Option<Row> {
    let (m, p): (_, &Placed) = (page.plan.members.get(i)?, w.placed.get(i)?);
    let r = &p.predicted.prediction;
    let scaled = r.scale_this.is_some();
    let off = w.off(p);
    let ghost = p.moved.then(|| p.tried.iter().find(|t| t.tier == p.suggested && t.tier != p.tier)).flatten();
    let (low, middle, high) = (s.write(r.p10()), s.write(r.p50()), s.write(r.p90()));
    let label = format!("{} likely {middle}, 80 per cent range {low} to {high}", m.name);
    let own = p.personal.iter().filter(|x| !x.weight).count();
    let look = match (&off, p.moved, own == 0) {
        (Some(words), true, _) => format!("{words}, your choice"),
        (Some(words), ..) => words.clone(),
        (None, true, _) => match ghost {
            Some(g) if g.scale_this.is_none() => {
                format!("you moved from {}, {}", g.tier.letter(), s.write(g.p50))
            }
            _ => "you chose this".to_owned(),
        },
        (None, false, false) => {
            format!("{} of their own", if own == 1 { "1 line".to_owned() } else { format!("{own} lines") })
        }
        _ => String::new(),
    };
    Some(Row {
        id: m.id.clone(),
        name: m.name.clone(),
        open: why == m.id,
        off: off.is_some(),
        picks: Tier::ALL.map(|t| (t, t == p.tier, t.letter().to_lowercase())).to_vec(),
        middle: if scaled { String::new() } else { middle },
        mark: Mark::of(r.provenance),
        range: format!("{low}–{high}"),
        chance: if scaled { String::new() } else { in_ten(r.on_stimulus) },
        lane: if scaled {
            axis.empty(LANE)
        } else {
            axis.lane(
                &range_of(r),
                ghost.filter(|g| g.scale_this.is_none()).map(|g| g.p50),
                None,
                LANE,
                &label,
            )
        },
        look,
        taught: before_results(&p.work.keeps(s), r)
            .map(|was| taught(&s.write(was), r.results))
            .unwrap_or_default(),
        reasons: p.says_place(page.kit.unit),
        personal: p.personal.iter().map(|x| (x.text.clone(), x.says(page.kit.unit), x.private())).collect(),
        offers: p.offers.clone(),
        rests_on: format!(
            "Range from {} simulated runs with what is known about {}: engine {}, speed of hand {}.",
            page.gym.settings.runs,
            m.name,
            page.plan.abilities.get(i).map_or("assumed", |a| a.known.engine.word()),
            page.plan.abilities.get(i).map_or("assumed", |a| a.known.cycle.word())
        ),
    })
}

/// How much of the class ends on stimulus against everybody at Full, and how both figures are worked out.
pub fn share_words(w: &WorkoutPlan) -> Option<(String, String)> {
    let s = w.shares()?;
    let tenth = |v: f64| format!("{:.1}", v);
    Some((
        format!("{} of {} expected on stimulus; with everybody at Full {}", tenth(s.placed), s.members, tenth(s.at_full)),
        "Each member counts by the share of their simulated runs that end on stimulus; work that is far beyond somebody counts \
         as none. At Full only what a limit, a first set or a volume guard forbids is changed, and fewer runs are made."
            .to_owned(),
    ))
}

/// How a version was found, with its candidates as they would have gone.
fn search(w: &WorkoutPlan, s: &Stimulus, tier: Tier, kit: &Kit) -> Option<SearchView> {
    let version = w.versions.iter().find(|v| v.tier == tier)?;
    let search = w.searched(tier, kit, MOST_CANDIDATES)?;
    let found = search.path.last()?.fit;
    let results = |c: &Candidate| {
        let one = |(standard, v): &(Standard, f64)| {
            let late = s.is_time() && s.cap_s.is_some_and(|c| *v > FAR_CAPS * c);
            let at = if v.is_finite() && !late { s.write(*v) } else { "no finish in sight".to_owned() };
            format!("{at} {}", standard.word())
        };
        c.results.iter().map(one).collect::<Vec<_>>().join(", ")
    };
    let view = |c: &Candidate, changes: String, says: &str| CandidateView {
        changes,
        results: results(c),
        inside: c.inside,
        says: says.to_owned(),
    };
    let path = search.path.iter().enumerate().map(|(i, c)| match i {
        0 => view(c, "as the version above".to_owned(), ""),
        _ => view(c, c.changes.clone(), "part of what is said"),
    });
    Some(SearchView {
        tier,
        tried: version.tried,
        made_for: version.made_for.clone(),
        path: path.collect(),
        others: search.others.iter().map(|c| view(c, c.changes.clone(), c.why_not(&found))).collect(),
    })
}

#[expect(clippy::too_many_lines, reason = "stood before the rule; split it when this room is put in order")]
fn work(page: &ClassPage, w: &WorkoutPlan, why: &Why) -> Work {
    let name = w.name.clone().unwrap_or_else(|| "Workout".to_owned());
    let short = |s| lantern_core::say::short(s, page.plan.unit, |_| String::new());
    let mut out = Work {
        block: w.block,
        name,
        clock: w.versions.first().map(|v| v.work.clock_text()).unwrap_or_default(),
        waits: w.waits.clone(),
        versions: Vec::new(),
        rows: Vec::new(),
        guesses: Vec::new(),
        empty: w.placed.is_empty(),
        range_head: "Likely finish, 80 % range",
        axis: String::new(),
        groups: Vec::new(),
        share: share_words(w),
        chosen: w.placed.iter().filter(|p| p.moved).count(),
        kit_notes: w.says().into_iter().chain(w.short.iter().map(short)).collect(),
        search: None,
    };
    let tried = why.tried_of(w.block);
    let (Some(s), Some(full)) = (&w.stimulus, w.versions.first()) else { return out };
    out.search = tried.and_then(|t| search(w, s, t, &page.kit));
    out.range_head = if s.is_time() { "Likely finish, 80 % range" } else { "Likely score, 80 % range" };
    out.versions = w
        .versions
        .iter()
        .map(|v| VersionView {
            tier: v.tier,
            tried: if v.tier == Tier::Full { 0 } else { v.tried },
            open: tried == Some(v.tier),
            members: members(w.members_of(v.tier).len()),
            clock: if v.work.clock() == full.work.clock() { String::new() } else { v.work.clock_text() },
            made_for: format!("made for {}", v.made_for),
            says: v.sentence.clone(),
            changes: v.changes.clone(),
        })
        .collect();
    let lines = w.versions.iter().map(|v| v.work.lines.len()).max().unwrap_or(0);
    out.rows = (0..lines)
        .flat_map(|i| {
            let written = full.work.lines.get(i).map(|l| l.text());
            let lead = full.work.lines.get(i).map(|l| l.lead.clone()).filter(|l| !l.is_empty());
            let row = w
                .versions
                .iter()
                .map(|v| {
                    let text = v.work.lines.get(i).map(|l| l.text());
                    let differs = text != written;
                    (text.unwrap_or_default(), differs)
                })
                .collect();
            // a later part is led in by its clock, the same for all
            lead.map(|l| vec![(l, false); w.versions.len()]).into_iter().chain([row])
        })
        .collect();
    out.guesses = full
        .work
        .lines
        .iter()
        .filter(|l| l.weight_assumed)
        .map(|l| {
            format!(
                "No weight is written for {}: the usual moderate one is assumed.",
                lantern_core::movement::say::spoken(&l.movement)
            )
        })
        .collect();
    let ranges: Vec<Range> = w
        .placed
        .iter()
        .filter(|p| p.predicted.prediction.scale_this.is_none())
        .map(|p| range_of(&p.predicted.prediction))
        .collect();
    let member = why.why.as_deref().unwrap_or_default();
    let axis = Axis::of(s, &ranges);
    out.axis = axis.head();
    // a version that nobody does stands there too: somebody can be dragged into it
    out.groups = Tier::ALL
        .into_iter()
        .map(|tier| {
            let mut of = w.members_of(tier);
            let middle = |i: &usize| w.placed.get(*i).map_or(0.0, |p| p.predicted.prediction.p50());
            of.sort_by(|a, b| middle(a).total_cmp(&middle(b)));
            Group {
                tier,
                members: if of.is_empty() { "nobody".to_owned() } else { members(of.len()) },
                lane: axis.empty(28.0),
                rows: of.into_iter().filter_map(|i| row(page, w, s, &axis, i, member)).collect(),
            }
        })
        .collect();
    out
}

/// Whose reasons are open, and which version's search (`block-letter`).
#[derive(Deserialize)]
pub struct Why {
    why: Option<String>,
    tried: Option<String>,
}

impl Why {
    fn tried_of(&self, block: usize) -> Option<Tier> {
        let (at, tier) = self.tried.as_deref()?.split_once('-')?;
        Tier::read(tier).filter(|_| at.parse() == Ok(block))
    }
}

/// `GET /classes/{id}/versions?why=…`.
pub async fn show(app: Data<App>, who: Who, path: Path<String>, why: Query<Why>) -> Page {
    let class = ClassId(id(&path)?);
    let why = why.into_inner();
    let page = planned(&app, who.gym(), class).await?;
    let page = apart(move |_| {
        Ok(VersionsPage {
            frame: page.frame(&who, "versions"),
            base: page.base(),
            works: page.plan.workouts.iter().map(|w| work(&page, w, &why)).collect(),
            cautions: cautions(&page, |b| page.plan.workouts.iter().any(|w| Some(w.block) == b)),
            defers: lantern_core::cautions::DEFERS,
        })
    })
    .await?;
    html(&page)
}

/// `POST /classes/{id}/version`: moves a member.
pub async fn version(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let tier = Tier::read(change.fields.get("tier"));
    let tier = tier.ok_or_else(|| WebError::Unreadable("a version is Full, Trim or Base".to_owned()))?;
    let (block, member) = (block_of(&change)?, id(change.fields.get("member"))?.to_string());
    decide(app, change, &path, Decision::Version { block, member, tier }, "versions").await
}

/// `POST /classes/{id}/suggest`: makes the versions anew round those chosen by hand, or drops these.
pub async fn suggest(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let block = block_of(&change)?;
    let drop = change.fields.get("drop") == "yes";
    decide(app, change, &path, Decision::SuggestAgain { block, drop }, "versions").await
}
