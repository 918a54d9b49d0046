//! The gym's kit: what weights are built from.

use crate::app::App;
use crate::error::Page;
use crate::frame::{Area, Frame, html, html_as};
use crate::session::{Change, Fields, Who, blocking, once};
use actix_web::http::StatusCode;
use actix_web::web::Data;
use askama::Template;
use lantern_core::kit::{COUNTED, Kit, Stock};
use lantern_core::movement::catalogue;
use lantern_core::sheet::{WeightUnit, read_number};
use lantern_core::units::plain;
use lantern_store::{gym, kit};

/// Empty rows below each list.
const SPARE_ROWS: usize = 2;
/// Kinds that are kept by size: (name of the fields, title, what follows the kit's unit of mass; boxes have their own).
const LISTS: [(&str, &str, &str); 6] = [
    ("bar", "Bars", ""),
    ("plate", "Plates", ", counted singly"),
    ("dumbbell", "Dumbbells", ", counted singly"),
    ("kettlebell", "Kettlebells", ""),
    ("ball", "Balls", ""),
    ("box", "Boxes", "cm"),
];
#[derive(Template)]
#[template(path = "kit/page.html")]
struct KitPage {
    frame: Frame,
    problem: String,
    saved: bool,
    lists: Vec<ListView>,
    counts: Vec<(&'static str, String, String, bool)>,
    collar: String,
    unit: &'static str,
}

struct ListView {
    kind: &'static str,
    title: &'static str,
    unit: String,
    rows: Vec<(String, String, bool)>,
}

/// Texts of the form: rows of each list, counts, collar.
#[derive(Clone)]
struct Form {
    lists: Vec<Vec<(String, String, bool)>>,
    counts: Vec<(String, bool)>,
    collar: String,
    unit: WeightUnit,
}

fn list_of<'a>(k: &'a Kit, kind: &str) -> &'a [Stock] {
    match kind {
        "bar" => &k.bars,
        "plate" => &k.plates,
        "dumbbell" => &k.dumbbells,
        "kettlebell" => &k.kettlebells,
        "ball" => &k.balls,
        _ => &k.boxes,
    }
}

impl Form {
    fn of(k: &Kit) -> Form {
        Form {
            lists: LISTS
                .iter()
                .map(|(kind, ..)| {
                    let mark = |s: &Stock| if *kind == "box" { plain(s.size) } else { k.mark(s.size) };
                    list_of(k, kind).iter().map(|s| (mark(s), s.count.to_string(), false)).collect()
                })
                .collect(),
            counts: COUNTED
                .iter()
                .map(|id| (k.counts.get(id).map(u32::to_string).unwrap_or_default(), false))
                .collect(),
            collar: k.mark(k.collar_kg),
            unit: k.unit,
        }
    }

    fn read(f: &Fields) -> Form {
        let rows = |kind: &str| {
            let (sizes, counts) = (f.all(&format!("{kind}_size")), f.all(&format!("{kind}_count")));
            sizes
                .into_iter()
                .zip(counts)
                .take(80)
                .map(|(s, n)| (s.trim().to_owned(), n.trim().to_owned(), false))
                .collect()
        };
        Form {
            lists: LISTS.iter().map(|(kind, ..)| rows(kind)).collect(),
            counts: COUNTED
                .iter()
                .map(|id| (f.get(&format!("count_{}", id.word())).trim().to_owned(), false))
                .collect(),
            collar: f.get("collar").trim().to_owned(),
            unit: if f.get("unit") == "lb" { WeightUnit::Lb } else { WeightUnit::Kg },
        }
    }

    /// The kit, or what is wrong; wrong rows are marked.
    fn kit(&mut self) -> Result<Kit, String> {
        let mut k = Kit { unit: self.unit, ..Kit::default() };
        let mut wrong = None;
        for ((kind, title, _), rows) in LISTS.iter().zip(&mut self.lists) {
            let mut stock: Vec<Stock> = Vec::new();
            for row in rows.iter_mut().filter(|r| !(r.0.is_empty() && r.1.is_empty())) {
                let mass = |v: f64| if *kind == "box" { v } else { k.kg_of(v) };
                let size = read_number(&row.0).map(mass).filter(|v| *v > 0.0 && *v <= 200.0);
                match (size, row.1.parse::<u32>().ok().filter(|n| *n <= 500)) {
                    (Some(size), Some(count)) if !stock.iter().any(|s| s.size == size) => {
                        stock.push(Stock { size, count })
                    }
                    (Some(size), Some(_)) => {
                        row.2 = true;
                        wrong.get_or_insert(format!(
                            "{title}: {} stands there twice. Put both counts into one row.",
                            k.mark(size)
                        ));
                    }
                    _ => {
                        row.2 = true;
                        wrong.get_or_insert(format!(
                            "{title}: a row needs a size above 0 and a count from 0 to 500."
                        ));
                    }
                }
            }
            match *kind {
                "bar" => k.bars = stock,
                "plate" => k.plates = stock,
                "dumbbell" => k.dumbbells = stock,
                "kettlebell" => k.kettlebells = stock,
                "ball" => k.balls = stock,
                _ => k.boxes = stock,
            }
        }
        for (id, c) in COUNTED.iter().zip(&mut self.counts) {
            match c.0.parse::<u32>().ok().filter(|n| *n <= 500) {
                Some(n) => drop(k.counts.insert(*id, n)),
                None if c.0.is_empty() => {}
                None => {
                    c.1 = true;
                    wrong.get_or_insert("A count is a number from 0 to 500, or empty.".to_owned());
                }
            }
        }
        k.collar_kg =
            if self.collar.is_empty() { 0.0 } else { read_number(&self.collar).map_or(-1.0, |v| k.kg_of(v)) };
        match wrong {
            Some(w) => Err(w),
            None => k.check().map(|()| k),
        }
    }
}

fn page(frame: Frame, form: &Form, problem: String, saved: bool) -> KitPage {
    let words = Kit { unit: form.unit, ..Kit::default() }.unit_word();
    KitPage {
        frame,
        problem,
        saved,
        unit: words,
        lists: LISTS
            .iter()
            .zip(&form.lists)
            .map(|((kind, title, unit), rows)| {
                let mut rows = rows.clone();
                let free = rows.iter().filter(|r| r.0.is_empty() && r.1.is_empty()).count();
                rows.extend((0..SPARE_ROWS.saturating_sub(free)).map(|_| Default::default()));
                let unit = if *kind == "box" { (*unit).to_owned() } else { format!("{words}{unit}") };
                ListView { kind, title, unit, rows }
            })
            .collect(),
        counts: COUNTED
            .iter()
            .zip(&form.counts)
            .map(|(id, (n, bad))| {
                let name = catalogue()
                    .equipment
                    .iter()
                    .find(|e| e.id == *id)
                    .map_or_else(|| id.word().to_owned(), |e| e.name.clone());
                (id.word(), name, n.clone(), *bad)
            })
            .collect(),
        collar: form.collar.clone(),
    }
}

/// `GET /kit`.
pub async fn show(app: Data<App>, who: Who) -> Page {
    let page = blocking(&app, move |conn, _| {
        let gym = gym::find(conn, who.gym())?;
        let k = kit::find(conn, who.gym())?;
        let empty = k == Kit::default();
        let words = if empty {
            "No kit yet. Type what the hall owns: without bars and plates no weight can be built."
        } else {
            ""
        };
        Ok(page(Frame::new(&who, &gym, Area::Kit, "Kit"), &Form::of(&k), words.to_owned(), false))
    })
    .await?;
    html(&page)
}

/// `POST /kit`.
pub async fn change(app: Data<App>, change: Change) -> Page {
    let key = change.key();
    let mut form = Form::read(&change.fields);
    let read = form.kit();
    let who = change.who;
    let failed = read.is_err();
    let page = once(&app, key, move |conn, _| {
        let gym = gym::find(conn, who.gym())?;
        let frame = Frame::new(&who, &gym, Area::Kit, "Kit");
        match read {
            Ok(k) => {
                kit::change(conn, who.gym(), &k)?;
                Ok(page(frame, &Form::of(&kit::find(conn, who.gym())?), String::new(), true))
            }
            Err(words) => Ok(page(frame, &form, words, false)),
        }
    })
    .await?;
    html_as(if failed { StatusCode::UNPROCESSABLE_ENTITY } else { StatusCode::OK }, &page)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_kit_survives_its_form_and_bad_rows_are_marked() {
        let k = Kit::usual();
        assert_eq!(Form::of(&k).kit().unwrap(), k);
        let lb = Kit::usual_pounds();
        let form = Form::of(&lb);
        assert_eq!(form.lists[0][0].0, "45");
        let again = form.clone().kit().unwrap();
        assert_eq!((again.unit, again.mark(again.plates[5].size)), (WeightUnit::Lb, "2.5".to_owned()));
        let f = Fields::read(b"plate_size=10&plate_count=many&plate_size=5&plate_count=4&collar=0").unwrap();
        let mut form = Form::read(&f);
        assert!(form.kit().unwrap_err().starts_with("Plates: a row needs a size"));
        assert!(form.lists[1][0].2 && !form.lists[1][1].2);
        let f = Fields::read(b"bar_size=20&bar_count=4&collar=99").unwrap();
        assert!(Form::read(&f).kit().unwrap_err().contains("collar"));
    }
}
