//! The track record: every predicted result against what happened.

use super::Mark;
use crate::app::App;
use crate::draw::bars;
use crate::draw::lane::{Axis, Range};
use crate::error::Page;
use crate::frame::{Frame, Part, html};
use crate::session::{Who, blocking};
use actix_web::web::Data;
use askama::Template;
use lantern_core::held::board_reps;
use lantern_core::record::{LEAST_FOR_A_CLAIM, PROMISED, Pair, Record, Share, Verdict, record};
use lantern_core::sheet::TargetUnit;
use lantern_core::stimulus::{Length, Said, Stimulus};
use lantern_core::units::Provenance;
use lantern_core::versions::PredictionUnit;
use lantern_store::logbook::Held;
use lantern_store::{gym, logbook, roster};
use std::collections::HashMap;

#[derive(Template)]
#[template(path = "record/page.html")]
struct RecordPage {
    frame: Frame,
    lead: String,
    /// Classes whose plan cannot be read any more.
    lost: String,
    of: usize,
    percent: String,
    claim: String,
    axis: String,
    provenance: Vec<ProvenanceView>,
    slots_say: String,
    slots: String,
    lean: String,
    classes: Vec<(String, String, String, Vec<bool>, String)>,
}

struct ProvenanceView {
    mark: Mark,
    inside: String,
    of100: String,
    lane: String,
    verdict: &'static str,
    off: bool,
}

/// Pairs of prediction and result: only who did the version that was predicted, and only where a range was given.
fn pairs(held: &[Held], standards: &HashMap<String, lantern_core::units::Standard>) -> Vec<Pair> {
    let mut out = Vec::new();
    for (class, h) in held.iter().enumerate() {
        for r in &h.results {
            let id = r.member.to_string();
            let m = h.plan.members.iter().find(|m| m.id == id);
            let prediction = m.and_then(|m| m.predictions.iter().find(|p| p.block == r.block as usize));
            let Some(p) = prediction.filter(|p| p.scale_this.is_none() && p.tier == r.tier) else { continue };
            // the standard by which the class was held; plans from before it was kept have today's
            let standard = m.and_then(|m| m.standard).or_else(|| standards.get(&id).copied());
            let reps = standard.and_then(|s| board_reps(&h.plan, p.block, p.tier, s)).unwrap_or(1.0);
            let is_time = p.unit == PredictionUnit::Seconds;
            let Some(result) = r.outcome.compared(p.cap_s, reps) else { continue };
            out.push(Pair { class, deciles: p.deciles, result, is_time, provenance: p.provenance });
        }
    }
    out
}

/// An axis from 40 to 100 of a hundred with the promise marked.
fn share_axis() -> Axis {
    let s = Stimulus {
        unit: TargetUnit::Reps,
        low: Some(PROMISED * 100.0),
        high: Some(PROMISED * 100.0),
        said: Said::Sheet,
        cap_s: None,
        wishes: Vec::new(),
        length: Length::Short,
    };
    let whole = Range { low: 40.0, middle: 80.0, high: 98.0, provenance: Provenance::Tested };
    Axis::of(&s, &[whole]).saying("promised")
}

fn hundred(v: f64) -> String {
    format!("{:.0}", v * 100.0)
}

fn provenance_view(p: Provenance, s: &Share, axis: &Axis) -> ProvenanceView {
    let verdict = s.verdict();
    let range = Range {
        low: s.low * 100.0,
        middle: s.value() * 100.0,
        high: s.high * 100.0,
        provenance: Provenance::Tested,
    };
    ProvenanceView {
        mark: Mark::of(p),
        inside: format!("{} of {}", s.inside, s.of),
        of100: if s.of == 0 { "–".to_owned() } else { hundred(s.value()) },
        lane: if s.of == 0 {
            axis.empty(30.0)
        } else {
            axis.lane(
                &range,
                None,
                None,
                30.0,
                &format!("{} of 100, likely {} to {}", hundred(s.value()), hundred(s.low), hundred(s.high)),
            )
        },
        verdict: verdict.words(),
        off: matches!(verdict, Verdict::TooNarrow | Verdict::TooWide),
    }
}

fn claim(r: &Record) -> String {
    let s = &r.all;
    let counts = format!("{} of {}.", s.inside, s.of);
    if s.of < LEAST_FOR_A_CLAIM {
        return format!("{counts} Under {LEAST_FOR_A_CLAIM} I make no claim.");
    }
    let likely = format!(
        "With this many results the true rate is likely between {} and {}",
        hundred(s.low),
        hundred(s.high)
    );
    let so = match s.verdict() {
        Verdict::Holds => "so the promise can stand",
        Verdict::TooNarrow => "so my ranges are too narrow",
        _ => "so my ranges are wider than they need be",
    };
    format!("{counts} {likely}, {so}.")
}

fn lean(r: &Record) -> String {
    let (better, worse) = (r.slots[0], r.slots[9]);
    let outside = better + worse;
    if outside == 0 {
        return "No result fell outside.".to_owned();
    }
    let words = if better > worse {
        "Misses lean better"
    } else if worse > better {
        "Misses lean worse"
    } else {
        "Misses lean neither way"
    };
    format!("{words}: {better} better, {worse} worse than the range.")
}

/// `GET /record`.
pub async fn show(app: Data<App>, who: Who) -> Page {
    let page = blocking(&app, move |conn, _| {
        let gym = gym::find(conn, who.gym())?;
        let (held, lost) = logbook::held(conn, who.gym())?;
        let standards = roster::standards(conn, who.gym())?;
        let pairs = pairs(&held, &standards);
        let r = record(&pairs);
        let axis = share_axis();
        let day =
            |i: usize| held.get(i).map(|h| h.starts_at.format("%-d %B").to_string()).unwrap_or_default();
        let lead = match (r.by_class.first(), r.by_class.last()) {
            (Some(a), Some(b)) => format!(
                "{} classes, {} to {}. Every result that was predicted, against what happened.",
                r.by_class.len(),
                day(a.0),
                day(b.0)
            ),
            _ => String::new(),
        };
        let classes = r
            .by_class
            .iter()
            .rev()
            .take(14)
            .map(|(c, s)| {
                let h = held.get(*c);
                let name = h.and_then(|h| h.plan.title.clone()).unwrap_or_else(|| "Session".to_owned());
                let cells = (0..s.of).map(|i| i < s.inside).collect();
                let href = h.map_or_else(String::new, |h| format!("/classes/{}/log", h.class));
                (day(*c), name, format!("{} of {}", s.inside, s.of), cells, href)
            })
            .collect();
        Ok(RecordPage {
            frame: Frame::new(&who, &gym, Part::Record, "Track record"),
            lead,
            lost: match lost.first() {
                None => String::new(),
                Some((_, at)) => format!(
                    "{} not counted here: what was foretold cannot be read any more, the first on {}. The results themselves are all there.",
                    if lost.len() == 1 { "1 class is".to_owned() } else { format!("{} classes are", lost.len()) },
                    at.format("%-d %B")
                ),
            },
            of: r.all.of,
            percent: hundred(r.all.value()),
            claim: claim(&r),
            axis: axis.head(),
            provenance: r.by_provenance.iter().map(|(p, s)| provenance_view(*p, s, &axis)).collect(),
            slots_say: format!("10 slots, each should hold about {:.0}", r.all.of as f64 / 10.0),
            slots: bars::slots(&r),
            lean: lean(&r),
            classes,
        })
    })
    .await?;
    html(&page)
}

#[cfg(test)]
mod tests {
    use super::*;
    use chrono::NaiveDate;
    use lantern_core::kit::Kit;
    use lantern_core::logbook::Outcome;
    use lantern_core::plan::{Class, Options, answer, plan};
    use lantern_core::roster::Member;
    use lantern_core::settings::Settings;
    use lantern_core::units::Standard;
    use lantern_core::versions::Tier;
    use lantern_store::logbook::Logged;
    use lantern_store::{ClassId, MemberId};

    fn held(outcomes: &[Outcome]) -> (Vec<Held>, HashMap<String, Standard>) {
        let date = NaiveDate::from_ymd_opt(2026, 11, 24).unwrap();
        let ids: Vec<MemberId> = outcomes.iter().map(|_| MemberId::fresh()).collect();
        let members: Vec<Member> = ids
            .iter()
            .map(|id| {
                let mut m = Member::unknown("Bo", Standard::Heavier, lantern_core::pacing::Level::Seasoned);
                m.id = id.to_string();
                m
            })
            .collect();
        let class = Class {
            members,
            kit: Kit::usual(),
            date,
            length_s: None,
            recent_drills: Vec::new(),
            cycles: Vec::new(),
        };
        let sheet =
            lantern_core::sheet::read("# workout cap 9:00\n3 rounds for time\n10 burpees\n200 m run").sheet;
        let p = answer(&plan(
            &sheet,
            &class,
            &Settings::default(),
            &[],
            Options { runs: 40, ..Options::default() },
        ));
        let tier = p.members[0].tier.unwrap();
        let results = ids
            .iter()
            .zip(outcomes)
            .map(|(id, o)| Logged {
                member: *id,
                block: 0,
                outcome: *o,
                tier,
                load_kg: None,
                note: String::new(),
                volume: Default::default(),
            })
            .collect();
        let standards = ids.iter().map(|id| (id.to_string(), Standard::Heavier)).collect();
        let starts_at = date.and_hms_opt(18, 0, 0).unwrap();
        (vec![Held { class: ClassId::fresh(), starts_at, plan: p, results }], standards)
    }

    #[test]
    fn only_what_was_predicted_and_done_is_counted() {
        let (mut h, s) =
            held(&[Outcome::Time { seconds: 300.0 }, Outcome::Out, Outcome::Capped { rounds: 2, reps: 3 }]);
        let all = pairs(&h, &s);
        assert_eq!(all.len(), 2, "who did not finish says nothing about the range");
        assert_eq!(all[1].result, 540.0, "a capped result stands at the cap");
        assert!(!all[1].inside(), "and is a miss where the range ended well before it");
        let other = if h[0].results[0].tier == Tier::Base { Tier::Full } else { Tier::Base };
        h[0].results[0].tier = other;
        assert_eq!(pairs(&h, &s).len(), 1, "another version was not predicted");
    }

    #[test]
    fn words_follow_the_counts() {
        let few = record(&[]);
        assert!(claim(&few).contains("Under 30 I make no claim"));
        assert_eq!(lean(&few), "No result fell outside.");
        let (h, s) = held(&[Outcome::Time { seconds: 60.0 }]);
        assert_eq!(lean(&record(&pairs(&h, &s))), "Misses lean better: 1 better, 0 worse than the range.");
    }

    #[test]
    fn the_promise_is_marked_on_the_axis() {
        assert!(share_axis().head().contains(">promised</text>"));
    }
}
