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
use chrono::NaiveDateTime;
use lantern_core::record::{LEAST_FOR_A_CLAIM, PROMISED, Record, Share, Verdict, record};
use lantern_core::sheet::TargetUnit;
use lantern_core::stimulus::{Length, Said, Stimulus};
use lantern_core::units::Provenance;
use lantern_store::gym;
use lantern_store::record::{ClassRow, Counted, counted};

/// Classes that are named.
const CLASSES: i64 = 14;

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
        let counted = counted(conn, who.gym(), CLASSES)?;
        let r = record(&counted.results);
        let axis = share_axis();
        Ok(RecordPage {
            frame: Frame::new(&who, &gym, Part::Record, "Track record"),
            lead: lead(&counted),
            lost: lost(&counted),
            of: r.all.of,
            percent: hundred(r.all.value()),
            claim: claim(&r),
            axis: axis.head(),
            provenance: r.by_provenance.iter().map(|(p, s)| provenance_view(*p, s, &axis)).collect(),
            slots_say: format!("10 slots, each should hold about {:.0}", r.all.of as f64 / 10.0),
            slots: bars::slots(&r),
            lean: lean(&r),
            classes: counted.latest.iter().map(class).collect(),
        })
    })
    .await?;
    html(&page)
}

fn day(at: NaiveDateTime) -> String {
    at.format("%-d %B").to_string()
}

fn class(c: &ClassRow) -> (String, String, String, Vec<bool>, String) {
    let name = c.title.clone().unwrap_or_else(|| "Session".to_owned());
    let cells = (0..c.of).map(|i| i < c.inside).collect();
    (day(c.starts_at), name, format!("{} of {}", c.inside, c.of), cells, format!("/classes/{}/log", c.class))
}

fn lead(c: &Counted) -> String {
    let counted = c.span.map(|(first, last)| {
        format!(
            "{} classes, {} to {}. Every result that was predicted, against what happened.",
            c.classes,
            day(first),
            day(last)
        )
    });
    let waiting =
        (c.waiting > 0).then(|| format!("{} more are not counted yet: open this page again.", c.waiting));
    counted.into_iter().chain(waiting).collect::<Vec<_>>().join(" ")
}

fn lost(c: &Counted) -> String {
    let (n, Some(at)) = c.lost else { return String::new() };
    let many = if n == 1 { "1 class is".to_owned() } else { format!("{n} classes are") };
    format!(
        "{many} not counted here: what was foretold cannot be read any more, the first on {}. The results themselves are all there.",
        day(at)
    )
}

#[cfg(test)]
mod tests {
    use super::*;
    use lantern_core::record::Landed;

    #[test]
    fn words_follow_the_counts() {
        let few = record(&[]);
        assert!(claim(&few).contains("Under 30 I make no claim"));
        assert_eq!(lean(&few), "No result fell outside.");
        let better = Landed { slot: 0, inside: false, provenance: Provenance::Tested };
        assert_eq!(lean(&record(&[(better, 1)])), "Misses lean better: 1 better, 0 worse than the range.");
    }

    #[test]
    fn the_promise_is_marked_on_the_axis() {
        assert!(share_axis().head().contains(">promised</text>"));
    }
}
