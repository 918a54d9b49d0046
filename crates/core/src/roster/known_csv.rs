//! Maxes and body masses as a table, out and in: one row for each known figure. What is read is shown cell by cell before
//! anything is kept.

use super::read_csv::{movement, number_between, plain_ends};
use super::{Max, Member};
use crate::movement::catalogue;
use crate::sheet::read_number;
use crate::units::{KG_PER_LB, plain};
use chrono::NaiveDate;

/// Headings, in the order of the file.
pub const HEADINGS: [&str; 6] = ["member", "lift", "kg", "reps", "left", "date"];
/// What stands in the place of a lift for a body mass.
const BODY_MASS: &str = "body mass";
/// Most rows that are read.
const MOST_ROWS: usize = 5000;

/// A figure of a member.
#[derive(Debug, Clone, PartialEq)]
pub enum Figure {
    /// A lift.
    Lift(Max),
    /// kg.
    BodyMass(f64),
}

/// A cell as typed, with what is wrong in it.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Cell {
    /// As typed.
    pub text: String,
    /// What is wrong and what to write.
    pub problem: Option<String>,
}

/// A row of the table.
#[derive(Debug, Clone, PartialEq)]
pub struct Row {
    /// Line of the file, from 1.
    pub line: u64,
    /// In the order of [`HEADINGS`].
    pub cells: [Cell; 6],
    /// Whose figure and which; `None` where a cell is wrong.
    pub read: Option<(String, Figure)>,
}

/// A table as read.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Known {
    /// In the file's order.
    pub rows: Vec<Row>,
    /// What keeps the whole file from being read.
    pub problem: Option<String>,
}

/// Everything known about members, a row for each figure. Lifts go by their written names, loads in kg.
pub fn write_known(members: &[Member]) -> String {
    let mut out = csv::Writer::from_writer(Vec::new());
    let _ = out.write_record(HEADINGS);
    for m in members {
        let name = guarded(&m.name);
        if let Some(kg) = m.body_mass_kg {
            let _ = out.write_record([&name, BODY_MASS, &plain(kg), "", "", ""]);
        }
        for x in &m.maxes {
            let left = if x.reserve == 0 { String::new() } else { x.reserve.to_string() };
            let date = x.date.map(|d| d.to_string()).unwrap_or_default();
            let lift = catalogue().written(&x.lift);
            let _ = out.write_record([&name, &lift, &plain(x.kg), &x.reps.to_string(), &left, &date]);
        }
    }
    out.into_inner().ok().and_then(|bytes| String::from_utf8(bytes).ok()).unwrap_or_default()
}

/// A name that a spreadsheet would take for a formula, behind the mark that makes it text there.
fn guarded(name: &str) -> String {
    if name.starts_with(['=', '+', '-', '@', '\t', '\r']) { format!("'{name}") } else { name.to_owned() }
}

/// A name as it was before it was guarded.
fn bare(name: &str) -> &str {
    name.strip_prefix('\'').filter(|rest| guarded(rest) == name).unwrap_or(name)
}

/// Where each heading stands in the file, and whether loads are in pounds.
fn columns(headings: &csv::StringRecord) -> Result<([Option<usize>; 6], bool), String> {
    let low: Vec<String> =
        headings.iter().map(|h| h.trim_start_matches('\u{feff}').trim().to_ascii_lowercase()).collect();
    let find = |names: &[&str]| low.iter().position(|h| names.contains(&h.as_str()));
    let pounds = find(&["lb", "lbs", "pounds"]);
    let at = [
        find(&["member", "name"]),
        find(&["lift", "movement", "what"]),
        pounds.or(find(&["kg", "load", "weight"])),
        find(&["reps"]),
        find(&["left", "reserve", "in reserve"]),
        find(&["date", "day", "on"]),
    ];
    for (i, at) in at.iter().enumerate().take(3) {
        if at.is_none() {
            return Err(format!(
                "The first row needs the headings {}; {} is missing.",
                HEADINGS.join(", "),
                HEADINGS.get(i).unwrap_or(&"one")
            ));
        }
    }
    Ok((at, pounds.is_some()))
}

/// Reads a table of figures for members who are known already.
pub fn read_known(text: &str, members: &[Member], today: NaiveDate) -> Known {
    let text = plain_ends(text);
    let mut reader = super::read_csv::reader(&text);
    let headings = match reader.headers() {
        Ok(h) => h.clone(),
        Err(e) => {
            return Known { problem: Some(format!("The file cannot be read: {e}.")), ..Known::default() };
        }
    };
    let (at, pounds) = match columns(&headings) {
        Ok(found) => found,
        Err(problem) => return Known { problem: Some(problem), ..Known::default() },
    };
    let mut out = Known::default();
    for record in reader.records() {
        let Ok(r) = record else { continue };
        if r.iter().all(str::is_empty) {
            continue;
        }
        if out.rows.len() == MOST_ROWS {
            out.problem = Some(format!("I read the first {MOST_ROWS} rows. Cut the file in two."));
            break;
        }
        let cell = |i: usize| at.get(i).copied().flatten().and_then(|c| r.get(c)).unwrap_or("").to_owned();
        let texts: [String; 6] = std::array::from_fn(cell);
        let line = r.position().map_or(0, csv::Position::line);
        out.rows.push(row(line, texts, pounds, members, today));
    }
    if out.rows.is_empty() && out.problem.is_none() {
        out.problem = Some("There is no row under the headings.".to_owned());
    }
    out
}

#[expect(clippy::too_many_lines, reason = "stood before the rule; split it when this room is put in order")]
fn row(line: u64, texts: [String; 6], pounds: bool, members: &[Member], today: NaiveDate) -> Row {
    let [name, lift, kg, reps, left, date] = &texts;
    let mass = lift.to_ascii_lowercase().replace('_', " ") == BODY_MASS;
    let low = bare(name).to_lowercase();
    let member =
        members.iter().find(|m| m.name.to_lowercase() == low).map(|m| m.id.clone()).ok_or_else(|| {
            if name.is_empty() {
                "Write a member's name.".to_owned()
            } else {
                format!("No member is called {name}.")
            }
        });
    let id = if mass {
        Ok(String::new())
    } else {
        movement(lift).ok_or_else(|| {
            let near: Vec<String> =
                catalogue().nearest(lift, 2).iter().map(|m| catalogue().written(&m.id)).collect();
            format!("I do not know this lift. Did you mean {}?", near.join(" or "))
        })
    };
    let f = if pounds { KG_PER_LB } else { 1.0 };
    let (from, to, what) = if mass { (25.0, 250.0, "body mass in kg") } else { (1.0, 500.0, "load in kg") };
    let load = read_number(kg)
        .map(|v| (v * f * 100.0).round() / 100.0)
        .filter(|v| (from..=to).contains(v))
        .ok_or_else(|| format!("Write a {what} from {} to {}.", plain(from), plain(to)));
    let count = |text: &str, from: f64, to: f64, what: &str, empty: u32| {
        if text.is_empty() { Ok(empty) } else { number_between(text, from, to, what).map(|v| v as u32) }
    };
    let reps = count(reps, 1.0, 30.0, "number of reps", 1);
    let left = count(left, 0.0, 10.0, "number of reps left", 0);
    let day = match date.as_str() {
        "" => Ok(None),
        text => match text.parse::<NaiveDate>() {
            Ok(d) if d > today => Err("This day is still to come.".to_owned()),
            Ok(d) => Ok(Some(d)),
            Err(_) => Err("Write the day as 2026-11-23.".to_owned()),
        },
    };
    let problems = [
        member.as_ref().err().cloned(),
        id.as_ref().err().cloned(),
        load.as_ref().err().cloned(),
        reps.as_ref().err().cloned(),
        left.as_ref().err().cloned(),
        day.as_ref().err().cloned(),
    ];
    let read = match (member, id, load, reps, left, day) {
        (Ok(member), Ok(_), Ok(kg), ..) if mass && problems.iter().all(Option::is_none) => {
            Some((member, Figure::BodyMass(kg)))
        }
        (Ok(member), Ok(lift), Ok(kg), Ok(reps), Ok(reserve), Ok(date)) => {
            Some((member, Figure::Lift(Max { lift, kg, reps, reserve, date })))
        }
        _ => None,
    };
    let mut cells = texts.map(|text| Cell { text, problem: None });
    for (cell, problem) in cells.iter_mut().zip(problems) {
        cell.problem = problem;
    }
    Row { line, cells, read }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_name_that_looks_like_a_formula_is_text_and_comes_back() {
        let mut m = Member::unknown("=SUM(A1)", crate::units::Standard::Heavier, crate::pacing::Level::New);
        m.id = "m".into();
        m.body_mass_kg = Some(80.0);
        let csv = write_known(std::slice::from_ref(&m));
        assert!(csv.contains("'=SUM(A1),"), "{csv}");
        let read = read_known(&csv, std::slice::from_ref(&m), "2026-11-24".parse().unwrap());
        assert_eq!(read.rows[0].read.as_ref().map(|(id, _)| id.as_str()), Some("m"));
        assert_eq!((bare("'Ada"), bare("'=x"), guarded("Ada").as_str()), ("'Ada", "=x", "Ada"));
    }
    use crate::pacing::Level;
    use crate::units::Standard;
    use proptest::prelude::*;

    fn day() -> NaiveDate {
        NaiveDate::from_ymd_opt(2026, 11, 24).unwrap()
    }

    fn people() -> Vec<Member> {
        let mut bo = Member::unknown("Bo, the tall", Standard::Heavier, Level::Regular);
        bo.body_mass_kg = Some(82.5);
        bo.maxes = vec![
            Max { lift: "front-squat".into(), kg: 101.0, reps: 1, reserve: 0, date: Some(day()) },
            Max { lift: "clean-and-jerk".into(), kg: 72.5, reps: 3, reserve: 1, date: None },
        ];
        vec![bo, Member::unknown("Cy", Standard::Lighter, Level::New)]
    }

    #[test]
    fn what_goes_out_comes_in_again() {
        let people = people();
        let text = write_known(&people);
        assert!(text.starts_with("member,lift,kg,reps,left,date\n\"Bo, the tall\",body mass,82.5"), "{text}");
        let back = read_known(&text, &people, day());
        assert_eq!(back.problem, None);
        let figures: Vec<Figure> = back.rows.into_iter().map(|r| r.read.unwrap().1).collect();
        let mut want = vec![Figure::BodyMass(82.5)];
        want.extend(people[0].maxes.iter().cloned().map(Figure::Lift));
        assert_eq!(figures, want);
    }

    #[test]
    fn every_bad_cell_is_marked_at_its_place() {
        let text = "member;lift;kg;reps;left;date\nEd;back squat;100;1;;\ncy;bak squat;9000;40;x;24.11.\nCy;front squat;60;;;2027-01-01\n;;;;;\nCy;front squat;60;3;2;2026-11-01\n";
        let k = read_known(text, &people(), day());
        let bad = |row: usize| -> Vec<usize> {
            (0..6).filter(|i| k.rows[row].cells[*i].problem.is_some()).collect()
        };
        assert_eq!((bad(0), bad(1), bad(2), bad(3)), (vec![0], vec![1, 2, 3, 4, 5], vec![5], vec![]));
        assert!(k.rows[1].cells[1].problem.as_ref().unwrap().contains("back squat"));
        assert!(k.rows[..3].iter().all(|r| r.read.is_none()) && k.rows[3].read.is_some());
        assert_eq!((k.rows[3].line, k.rows.len()), (6, 4));
    }

    #[test]
    fn pounds_and_missing_headings() {
        let k = read_known("name,lift,lb\nCy,deadlift,225\nCy,body mass,140", &people(), day());
        assert!(matches!(&k.rows[0].read, Some((_, Figure::Lift(m))) if m.kg == 102.06), "{k:?}");
        assert!(matches!(&k.rows[1].read, Some((_, Figure::BodyMass(kg))) if *kg == 63.5));
        assert!(
            read_known("name,lift\nCy,deadlift", &people(), day()).problem.unwrap().contains("kg is missing")
        );
        assert!(read_known("member,lift,kg\n", &people(), day()).problem.unwrap().contains("no row"));
    }

    proptest! {
        #[test]
        fn any_file_is_answered(text in ".{0,300}", rows in prop::collection::vec("[a-z ,;\"0-9-]{0,40}", 0..8)) {
            read_known(&text, &people(), day());
            let k = read_known(&format!("member,lift,kg,reps,left,date\n{}", rows.join("\n")), &people(), day());
            for r in k.rows {
                prop_assert_eq!(r.read.is_none(), r.cells.iter().any(|c| c.problem.is_some()));
            }
        }
    }
}
