//! A member's own card, by an unguessable link: weights and plates, their version, sets, splits, range. Nothing about
//! anybody else, and of limits only the member's own lines.

use crate::app::App;
use crate::class_page::{ClassPage, planned};
use crate::day::on_clock;
use crate::draw::lane::{Axis, NARROW, Range};
use crate::draw::stack::{stack, words};
use crate::error::{Page, WebError};
use crate::frame::html;
use crate::pages::Mark as PageMark;
use crate::pages::floor::wall;
use crate::pages::pacing::shown_rounds;
use crate::pages::versions::range_of;
use crate::session::{Theme, apart, blocking, coach_of};
use actix_web::HttpRequest;
use actix_web::web::{Data, Path};
use askama::Template;
use chrono::Duration;
use lantern_core::hour::{HourPart, Stage};
use lantern_core::loads::MemberLift;
use lantern_core::plan::{LiftPlan, Mark, WorkoutPlan};
use lantern_core::units::{Provenance, clock};
use lantern_core::versions::Tier;
use lantern_store::MemberId;
use lantern_store::booking;
use lantern_store::card::{Way, went};
use lantern_store::cut::Taken;
use lantern_store::shown::Why;

/// Steps that are shown after a cut.
const CUT_STEPS: usize = 3;

#[derive(Template)]
#[template(path = "floor/card.html")]
struct CardPage {
    /// Address.
    base: String,
    /// When it was made, on the hall's clock.
    made: String,
    theme: Theme,
    name: String,
    session: String,
    when: String,
    tier: Option<Tier>,
    lifts: Vec<LiftView>,
    works: Vec<WorkView>,
    defers: &'static str,
    /// What was called out to them, for the script: the card is fetched anew when it changes.
    cuts: String,
}

pub(super) struct LiftView {
    pub(super) name: String,
    pub(super) when: String,
    pub(super) build: String,
    pub(super) unit: &'static str,
    pub(super) head: String,
    pub(super) sets: Vec<(String, String, String, String)>,
    pub(super) base: String,
    pub(super) mark: PageMark,
    pub(super) cues: Vec<String>,
    pub(super) says: Vec<String>,
}

pub(super) struct WorkView {
    pub(super) name: String,
    pub(super) when: String,
    pub(super) clock: String,
    pub(super) scale_this: String,
    pub(super) rounds: Vec<String>,
    pub(super) lines: Vec<(String, Vec<String>, bool)>,
    pub(super) ends: Vec<String>,
    pub(super) personal: Vec<String>,
    pub(super) likely: String,
    pub(super) low: String,
    pub(super) high: String,
    pub(super) mark: PageMark,
    pub(super) lane: String,
    pub(super) axis: String,
    pub(super) note: String,
    /// What was called out to them in the middle of it.
    pub(super) cut: String,
    /// The word of the walls' part in which it runs.
    pub(super) part: String,
    /// `at,round 1 done;…` in seconds: the member's own checkpoints.
    pub(super) checks: String,
}

/// Clock time at which a part of the hour starts for a member.
fn starts(page: &ClassPage, part: HourPart, block: usize, i: usize) -> String {
    let divided =
        page.plan.workouts.iter().find(|w| w.groups.len() > 1 && (w.block == block || halved(page, block)));
    let group = divided.and_then(|w| w.group_of(i));
    let slot = page.plan.hour.slot_of(part, block, group);
    slot.map(|s| (page.class.starts_at + Duration::seconds(i64::from(s.start_s))).format("%H:%M").to_string())
        .unwrap_or_default()
}

/// Whether half of the class lifts a block at a time.
fn halved(page: &ClassPage, block: usize) -> bool {
    page.plan.strength.iter().any(|s| s.block == block && s.halves)
}

/// When a member does a workout: the time, the heat, the line at which they begin, the cap.
fn when(page: &ClassPage, w: &WorkoutPlan, i: usize, cap_s: Option<f64>) -> String {
    let mut said = vec![starts(page, HourPart::Workout, w.block, i)];
    if let Some(heat) = w.group_of(i).filter(|_| w.heats > 1) {
        said.push(format!("heat {}", heat + 1));
    }
    if let (true, Some(start), Some(p)) = (w.starts.iter().any(|s| *s > 0), w.starts.get(i), w.placed.get(i))
    {
        said.push(format!("begin at {}", w.begins_at(*start, &p.work)));
    }
    said.extend(cap_s.map(|c| format!("cap {}", clock(c))));
    said.join(" · ")
}

#[expect(clippy::too_many_lines, reason = "stood before the rule; split it when this room is put in order")]
fn lift_view(page: &ClassPage, block: usize, lift: &LiftPlan, l: &MemberLift, i: usize) -> LiftView {
    let rack = lift.racks.racks.iter().enumerate().find_map(|(n, r)| {
        let at = r.members.iter().position(|m| *m == i)?;
        Some((n + 1, at + 1))
    });
    let when = starts(page, HourPart::Strength, block, i);
    let when = match rack {
        Some((n, at)) => format!("{when} · rack {n}, lifter {at}"),
        None => when,
    };
    let mut sets: Vec<(String, String, String, String)> = Vec::new();
    let work: Vec<_> = l.working().collect();
    let mut from = 0;
    while from < work.len() {
        let Some(s) = work.get(from) else { break };
        let same =
            work.iter().skip(from).take_while(|x| x.load_kg == s.load_kg && x.reps == s.reps).count().max(1);
        let name = if same == 1 {
            format!("Set {}", from + 1)
        } else {
            format!("Sets {} to {}", from + 1, from + same)
        };
        let (draw, plates) = if s.bar_kg > 0.0 {
            (stack(&s.per_side_kg, &page.kit), words(&s.per_side_kg, &page.kit))
        } else {
            (String::new(), "each".to_owned())
        };
        let reps = if s.reps == 0 { "as many as possible".to_owned() } else { format!("{} reps", s.reps) };
        let (load, plates) = if s.load_kg > 0.0 {
            (page.kit.mark(s.load_kg), plates)
        } else {
            (String::new(), "own weight".to_owned())
        };
        sets.push((format!("{name}, {reps}"), load, draw, plates));
        from += same;
    }
    let ramp: Vec<String> = l
        .sets
        .iter()
        .filter(|s| s.warm_up)
        .map(|s| format!("{} × {}", page.kit.mark(s.load_kg), s.reps))
        .collect();
    let bar = l.bar_kg();
    let unit = page.kit.unit_word();
    let bar = if bar > 0.0 { format!("{} {unit} bar. ", page.kit.mark(bar)) } else { String::new() };
    let tempo = l.tempo.map(|t| format!("Tempo {}: down, pause, up, pause.", t.words()));
    let reserve = l.reserve.map(|r| format!("Leave {r} reps in reserve."));
    let heavy = lift.heavy.as_ref().map(|h| {
        format!(
            "To a {}RM in {}: go by the reps that are left, and stop with none.",
            h.build.reps,
            clock(f64::from(h.window_s))
        )
    });
    let why = l.reasons.iter().map(|r| lantern_core::say::reason(r, page.kit.unit));
    LiftView {
        name: lantern_core::movement::catalogue().name(&l.lift),
        when,
        build: if ramp.is_empty() { bar } else { format!("{bar}Build up {}.", ramp.join(", ")) },
        head: lift
            .sets
            .every_s
            .map_or_else(|| "sets".to_owned(), |e| format!("every {}", clock(f64::from(e)))),
        sets,
        unit,
        base: if l.loadable() {
            format!("100 % is {} {unit}: {}", page.kit.mark((l.base.kg * 10.0).round() / 10.0), l.base.words)
        } else {
            "With your own weight".to_owned()
        },
        mark: PageMark::of(l.base.provenance),
        cues: lantern_core::movement::catalogue().cues(&l.lift),
        says: [heavy, tempo, reserve].into_iter().flatten().chain(why).collect(),
    }
}

#[expect(clippy::too_many_lines, reason = "stood before the rule; split it when this room is put in order")]
fn work_view(page: &ClassPage, w: &WorkoutPlan, i: usize) -> Option<WorkView> {
    let (s, p, splits) = (w.stimulus.as_ref()?, w.placed.get(i)?, w.splits.get(i)?);
    let standard = page.plan.members.get(i)?.standard;
    let r = &p.predicted.prediction;
    let done = splits.lines.iter().map(|l| l.round + 1).max().unwrap_or(0);
    let rounds = if done > 3 { vec![0, done / 2, done - 1] } else { shown_rounds(done) };
    let mut position = 0;
    let version = w.versions.iter().find(|v| v.tier == p.tier);
    let lines = p
        .work
        .lines
        .iter()
        .enumerate()
        .map(|(n, l)| {
            let at = position;
            position += 1 + l.along.len();
            let cells = rounds
                .iter()
                .map(|r| match splits.lines.iter().find(|x| x.position == at && x.round == *r) {
                    Some(x) if x.sets.len() == 1 && l.unit != lantern_core::units::Unit::Reps => {
                        clock(x.to_s - x.from_s)
                    }
                    Some(x) => x.text(),
                    None => String::new(),
                })
                .collect();
            let own = version.and_then(|v| v.work.lines.get(n)).is_some_and(|v| v != l);
            let kg = lantern_core::versions::line_kg(l, standard, &p.predicted.athlete);
            let mut text = l.text_for(standard);
            if let (Some(kg), None) = (kg, l.kg()) {
                text = format!("{text}, {}", page.kit.said(kg));
            }
            (text, cells, own)
        })
        .collect();
    let scaled = r.scale_this.as_ref().map(lantern_core::say::beyond).unwrap_or_default();
    let axis = Axis::with(s, &[range_of(r)], NARROW);
    let (low, high, likely) = (s.write(r.p10()), s.write(r.p90()), s.write(r.p50()));
    let label = format!("likely {likely}, 80 per cent range {low} to {high}");
    let multi = done > 1 && s.is_time();
    Some(WorkView {
        name: w.name.clone().unwrap_or_else(|| "Workout".to_owned()),
        when: when(page, w, i, s.cap_s),
        clock: format!("{}, in these sets", p.work.clock_text()),
        rounds: if done > 1 {
            rounds.iter().map(|r| (r + 1).to_string()).collect()
        } else {
            rounds.iter().map(|_| String::new()).collect()
        },
        lines,
        ends: if multi {
            rounds.iter().filter_map(|r| splits.round_ends.get(*r)).map(|t| clock(*t)).collect()
        } else {
            Vec::new()
        },
        personal: p.personal.iter().map(|x| format!("{}: {}", x.text, x.says(page.kit.unit))).collect(),
        lane: if scaled.is_empty() {
            axis.lane(&range_of(r), None, None, 30.0, &label)
        } else {
            String::new()
        },
        axis: axis.head(),
        likely: if scaled.is_empty() { likely } else { String::new() },
        scale_this: scaled,
        low,
        high,
        mark: PageMark::of(r.provenance),
        note: "Your own pace: the wall shows the one of your version's middle member.".to_owned(),
        cut: String::new(),
        part: wall::key_of(page, Stage::Workout(w.block)).unwrap_or_default(),
        checks: if r.scale_this.is_none() { checks(&splits.round_ends) } else { String::new() },
    })
}

/// Ends of rounds for the script.
fn checks(ends: &[f64]) -> String {
    let last = ends.len().saturating_sub(1);
    let mark = |i: usize| if i == last { Mark::Finish } else { Mark::Round(i + 1) };
    said_checks(&ends.iter().enumerate().map(|(i, s)| (mark(i), *s)).collect::<Vec<_>>())
}

fn said_checks(steps: &[(Mark, f64)]) -> String {
    let one =
        |(mark, s): &(Mark, f64)| format!("{s:.0},{}", mark.done().to_lowercase().replace([',', ';'], " "));
    steps.iter().map(one).collect::<Vec<_>>().join(";")
}

/// The work as it goes on after something was called out to a member: what is left, and where they end.
fn after_cut(page: &ClassPage, w: &WorkoutPlan, i: usize, view: WorkView) -> WorkView {
    let own = page.plan.members.get(i).zip(page.blocks.id(w.block)).zip(w.stimulus.as_ref());
    let Some(((m, block), s)) = own else { return view };
    let Some(t) = page.cut_of(&m.id, block) else { return view };
    let cut = format!("From {} on: {}", clock(t.passed.at_s), t.shout.says());
    let Some(after) = w.after_cut(i, m.standard, (t.passed, &t.shout)) else {
        return WorkView { cut, ..view };
    };
    let left: Vec<&(Mark, f64)> =
        after.steps.iter().filter(|_| view.rounds.len() > 1).take(CUT_STEPS).collect();
    let name = |mark: &Mark| match mark {
        Mark::Round(n) => n.to_string(),
        Mark::Line(..) => String::new(),
        Mark::Finish => "end".to_owned(),
    };
    let e = after.ends;
    // it is known as the whole was
    let known = w.placed.get(i).map_or(Provenance::Assumed, |p| p.predicted.prediction.provenance);
    let range = Range { low: e.low, middle: e.middle, high: e.high, provenance: known };
    let axis = Axis::with(s, std::slice::from_ref(&range), NARROW);
    let (low, likely, high) = (clock(e.low), clock(e.middle), clock(e.high));
    let label = format!("likely {likely}, 80 per cent range {low} to {high}");
    WorkView {
        cut,
        clock: match after.work.rounds() {
            0 | 1 => "What is left".to_owned(),
            n => format!("{n} rounds in all now"),
        },
        rounds: left.iter().map(|(mark, _)| name(mark)).collect(),
        lines: after
            .work
            .lines
            .iter()
            .map(|l| (l.text_for(m.standard), vec![String::new(); left.len()], false))
            .collect(),
        ends: left.iter().map(|(_, s)| clock(*s)).collect(),
        lane: axis.lane(&range, None, None, 30.0, &label),
        axis: axis.head(),
        likely,
        low,
        high,
        mark: PageMark::of(known),
        note: "The rest as it goes by the time at which you were there.".to_owned(),
        checks: said_checks(&after.steps),
        ..view
    }
}

/// What was called out to a member, as a script compares it.
pub(super) fn cuts_key(cuts: &[Taken], member: MemberId) -> String {
    let of = cuts.iter().filter(|t| t.member == member);
    let one = |t: &Taken| format!("{}-{}-{:.0}", t.block, t.passed.steps, t.passed.at_s);
    of.map(one).collect::<Vec<_>>().join(" ")
}

/// What a member lifts.
pub(super) fn lift_views(page: &ClassPage, i: usize) -> Vec<LiftView> {
    let lifts = page.plan.strength.iter().flat_map(|s| s.lifts.iter().map(move |l| (s.block, l)));
    lifts.filter_map(|(b, l)| Some(lift_view(page, b, l, l.of(i)?, i))).collect()
}

/// What a member does on the clock.
pub(super) fn work_views(page: &ClassPage, i: usize) -> Vec<WorkView> {
    page.plan.workouts.iter().filter_map(|w| Some(after_cut(page, w, i, work_view(page, w, i)?))).collect()
}

/// `GET /card/{token}`: no sign-in; the link is the key.
pub async fn show(app: Data<App>, request: HttpRequest, token: Path<String>) -> Page {
    let theme = Theme::of(&request);
    let base = format!("/card/{}", token.as_str());
    let token = token.into_inner();
    let (gym, class, member) = blocking(&app, move |conn, _| Ok(booking::find_card(conn, &token)?)).await?;
    let page = planned(&app, gym, class).await?;
    let i = page.plan.members.iter().position(|m| m.id == member.to_string()).ok_or(WebError::NoPlace)?;
    page.shown(&app, Why::Card).await?;
    // a coach of the hall who looks at a card is not its member
    if coach_of(&request) != Some(gym) {
        let of = (gym, class);
        blocking(&app, move |conn, _| Ok(went(conn, of, Some(member), Way::Opened)?)).await?;
    }
    let page = apart(move |_| {
        let name = page.plan.members.get(i).map(|m| m.name.clone()).unwrap_or_default();
        Ok(CardPage {
            base,
            made: on_clock(&(app.now)(), page.zone).format("%A %H:%M").to_string(),
            theme,
            name,
            session: page.name(),
            when: format!("{} · {}", page.class.starts_at.format("%a %-d %B, %H:%M"), page.gym.name),
            tier: page.plan.workouts.first().and_then(|w| w.placed.get(i)).map(|p| p.tier),
            lifts: lift_views(&page, i),
            works: work_views(&page, i),
            defers: lantern_core::cautions::DEFERS,
            cuts: cuts_key(&page.cuts, member),
        })
    })
    .await?;
    html(&page)
}
