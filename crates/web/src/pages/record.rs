//! The track record: every predicted result against what happened.

use super::Mark;
use crate::app::App;
use crate::draw::bars;
use crate::draw::lane::{Axis, Range};
use crate::error::Page;
use crate::frame::{Area, Frame, html};
use crate::session::{Who, apart, blocking};
use actix_web::web::Data;
use askama::Template;
use chrono::NaiveDateTime;
use lantern_core::learning::format_words;
use lantern_core::record::{Bin, LEAST_FOR_A_CLAIM, PROMISED, Record, Share, Tallied, lean, record};
use lantern_core::sheet::TargetUnit;
use lantern_core::stimulus::{Length, Said, Stimulus};
use lantern_core::units::Provenance;
use lantern_store::gym;
use lantern_store::record::{ClassRow, Counted, LATELY_DAYS, counted};

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
    lately: String,
    axis: String,
    tables: Vec<TableView>,
    slots_say: String,
    slots: String,
    lean: &'static str,
    chances: Vec<ChancesView>,
    unjudged: Vec<String>,
    classes: Vec<(String, String, String, Vec<bool>, String)>,
}

/// Results cut one way.
struct TableView {
    heading: &'static str,
    first: &'static str,
    rows: Vec<TalliedView>,
}

struct TalliedView {
    mark: Option<Mark>,
    name: &'static str,
    inside: String,
    of100: String,
    middle: String,
    half: String,
    lane: String,
    verdict: &'static str,
    off: bool,
}

/// Chances of one kind: said, came, how many.
struct ChancesView {
    heading: &'static str,
    rows: Vec<(String, String, usize)>,
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

fn tallied_view(name: &'static str, mark: Option<Mark>, g: &Tallied, axis: &Axis) -> TalliedView {
    let (s, verdict) = (&g.share, g.share.verdict());
    let range = Range {
        low: s.low * 100.0,
        middle: s.value() * 100.0,
        high: s.high * 100.0,
        provenance: Provenance::Tested,
    };
    let said = format!("{} of 100, likely {} to {}", hundred(s.value()), hundred(s.low), hundred(s.high));
    TalliedView {
        mark,
        name,
        inside: format!("{} of {}", s.inside, s.of),
        of100: if s.of == 0 { "–".to_owned() } else { hundred(s.value()) },
        middle: g.middle.map(|m| off_words(m.late_percent)).unwrap_or_default(),
        half: g.middle.map(|m| format!("± {:.0} %", m.half_percent)).unwrap_or_default(),
        lane: if s.of == 0 { axis.empty(30.0) } else { axis.lane(&range, None, None, 30.0, &said) },
        verdict: verdict.words(),
        off: verdict.broken(),
    }
}

/// How far results lie from their middles.
fn off_words(percent: f64) -> String {
    match percent.round() {
        0.0 => "on the middle".to_owned(),
        p if p > 0.0 => format!("{p:.0} % worse"),
        p => format!("{:.0} % better", -p),
    }
}

fn tables(r: &Record, axis: &Axis) -> Vec<TableView> {
    let provenance = r.by_provenance.iter().map(|(p, g)| tallied_view(p.word(), Some(Mark::of(*p)), g, axis));
    let format = r.by_format.iter().map(|(f, g)| tallied_view(format_words(*f), None, g, axis));
    let [with, without] = &r.by_learning;
    let learning = [("with results of their own", with), ("without", without)];
    let learning = learning.map(|(name, g)| tallied_view(name, None, g, axis));
    vec![
        TableView {
            heading: "By where the number came from",
            first: "Prediction rests on",
            rows: provenance.collect(),
        },
        TableView { heading: "By kind of work", first: "Work", rows: format.collect() },
        TableView {
            heading: "By what the members' results had taught",
            first: "Prediction was made",
            rows: learning.into(),
        },
    ]
}

fn chances(heading: &'static str, bins: &[Bin]) -> ChancesView {
    let row = |b: &Bin| (format!("{} of 100", hundred(b.said)), format!("{} of 100", hundred(b.came)), b.of);
    ChancesView { heading, rows: bins.iter().map(row).collect() }
}

fn claim(s: &Share) -> String {
    let counts = format!("{} of {}.", s.inside, s.of);
    if s.of < LEAST_FOR_A_CLAIM {
        return format!("{counts} Under {LEAST_FOR_A_CLAIM} I make no claim.");
    }
    let likely = format!(
        "Results of a class and of a member hang together; drawn again by classes and by members, the true rate is likely between {} and {}",
        hundred(s.low),
        hundred(s.high)
    );
    format!("{counts} {likely}. The promise: {}.", s.verdict().words())
}

fn lately(g: &Tallied) -> String {
    let s = &g.share;
    if s.of == 0 {
        return format!("No result in the last {LATELY_DAYS} days.");
    }
    format!(
        "Last {LATELY_DAYS} days: {} in 100, {} of {}, {}.",
        hundred(s.value()),
        s.inside,
        s.of,
        s.verdict().words()
    )
}

fn lean_words(lean: i8) -> &'static str {
    match lean {
        0 => "Misses lean neither way by more than chance.",
        1 => "Misses lean worse: more results fall after their range than before it, by more than chance.",
        _ => "Misses lean better: more results fall before their range than after it, by more than chance.",
    }
}

/// `GET /record`.
pub async fn show(app: Data<App>, who: Who) -> Page {
    let today = who.now(&app).date();
    let (gym, counted) = blocking(&app, move |conn, _| {
        let gym = gym::find(conn, who.gym())?;
        let counted = counted(conn, who.gym(), today, CLASSES)?;
        Ok((Frame::new(&who, &gym, Area::Record, "Track record"), counted))
    })
    .await?;
    // classes are drawn again: no connection is held for that
    let page = apart(move |_| Ok(page(gym, &counted))).await?;
    html(&page)
}

fn page(frame: Frame, counted: &Counted) -> RecordPage {
    let r = record(&counted.cells, &counted.members);
    let axis = share_axis();
    RecordPage {
        frame,
        lead: lead(counted),
        lost: lost(counted),
        of: r.all.share.of,
        percent: hundred(r.all.share.value()),
        claim: claim(&r.all.share),
        lately: lately(&r.late),
        axis: axis.head(),
        tables: tables(&r, &axis),
        slots_say: format!("10 slots, each should hold about {:.0}", r.all.share.of as f64 / 10.0),
        slots: bars::slots(&counted.slots),
        lean: lean_words(lean(&counted.cells)),
        chances: [("Chance of the window", &counted.window), ("Chance of the cap", &counted.cap)]
            .into_iter()
            .filter(|(_, b)| !b.is_empty())
            .map(|(heading, b)| chances(heading, b))
            .collect(),
        unjudged: counted.unjudged.iter().map(|(why, n)| why.says(*n)).collect(),
        classes: counted.latest.iter().map(class).collect(),
    }
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

    #[test]
    fn words_follow_the_counts() {
        assert!(claim(&Share::alone(0, 0)).contains("Under 30 I make no claim"));
        let of = claim(&Share::of(&[(60, 100); 40], &[]));
        assert!(
            of.starts_with("2400 of 4000.") && of.ends_with("The promise: broken: ranges too narrow."),
            "{of}"
        );
        assert!([-1, 0, 1].map(lean_words).windows(2).all(|w| w[0] != w[1]));
        assert_eq!([0.2, 4.4, -12.0].map(off_words), ["on the middle", "4 % worse", "12 % better"]);
    }

    #[test]
    fn the_promise_is_marked_on_the_axis() {
        assert!(share_axis().head().contains(">promised</text>"));
    }
}
