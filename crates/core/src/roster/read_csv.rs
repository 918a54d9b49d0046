//! Members from a CSV file: comma or semicolon, a header row, unknown columns kept aside and reported.

use super::{Best, Max, Member, Trial, read_limit};
use crate::movement::{Found, catalogue};
use crate::pacing::Level;
use crate::sheet::{read_clock, read_number};
use crate::units::{KG_PER_LB, Standard};
use chrono::NaiveDate;
use serde::Serialize;

/// Something in a roster file to look at.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
pub struct RosterProblem {
    /// Line of the file, from 1.
    pub line: u64,
    /// Heading of the column.
    pub column: String,
    /// What is wrong and what to write.
    pub message: String,
}

/// Members of a file, and what could not be read in it.
#[derive(Debug, Clone, PartialEq)]
pub struct Roster {
    /// In the file's order.
    pub members: Vec<Member>,
    /// By line.
    pub problems: Vec<RosterProblem>,
}

enum Column {
    Name,
    Standard,
    Level,
    Mass,
    Stature,
    Limits,
    Max { lift: String, pounds: bool },
    Unbroken(String),
    Time(String),
    Other,
}

pub(super) fn movement(words: &str) -> Option<String> {
    let list: Vec<&str> = words.split([' ', '-', '_']).filter(|w| !w.is_empty()).collect();
    match catalogue().find(&list, true) {
        Found::Movement { id, .. } => Some(id),
        _ => None,
    }
}

fn column(heading: &str) -> Result<Column, String> {
    let low = heading.trim().trim_start_matches('\u{feff}').to_ascii_lowercase();
    let named = |words: &str| {
        movement(words).ok_or_else(|| format!("I do not know the movement “{words}” in this heading."))
    };
    Ok(match low.split_once(':') {
        Some(("max", lift)) => Column::Max { lift: named(lift)?, pounds: false },
        Some(("max_lb", lift)) => Column::Max { lift: named(lift)?, pounds: true },
        Some(("unbroken", m)) => Column::Unbroken(named(m)?),
        Some(("time", test)) => Column::Time(test.trim().to_owned()),
        _ => match low.as_str() {
            "name" => Column::Name,
            "standard" => Column::Standard,
            "level" => Column::Level,
            "body_mass_kg" => Column::Mass,
            "stature_cm" => Column::Stature,
            "limits" => Column::Limits,
            _ => Column::Other,
        },
    })
}

/// A table with plain line ends: what a form or an office program sends would be counted a line short.
pub(super) fn plain_ends(text: &str) -> String {
    text.replace("\r\n", "\n").replace('\r', "\n")
}

/// A reader of a table with commas or semicolons, by what its first row has more of.
pub(super) fn reader(text: &str) -> csv::Reader<&[u8]> {
    let first = text.lines().next().unwrap_or_default();
    let semicolons = first.matches(';').count() > first.matches(',').count();
    csv::ReaderBuilder::new()
        .delimiter(if semicolons { b';' } else { b',' })
        .flexible(true)
        .trim(csv::Trim::All)
        .from_reader(text.as_bytes())
}

/// A number in a range, or what to write.
pub(super) fn number_between(cell: &str, from: f64, to: f64, what: &str) -> Result<f64, String> {
    read_number(cell)
        .filter(|v| (from..=to).contains(v))
        .ok_or_else(|| format!("“{cell}” is no {what} from {from} to {to}."))
}

/// Reads a roster.
pub fn read_csv(text: &str) -> Roster {
    let text = plain_ends(text);
    let mut reader = reader(&text);
    let mut out = Roster { members: Vec::new(), problems: Vec::new() };
    let headings: Vec<String> = match reader.headers() {
        Ok(h) => h.iter().map(str::to_owned).collect(),
        Err(e) => {
            out.say(1, "", &format!("The file cannot be read: {e}."));
            return out;
        }
    };
    let columns: Vec<Column> = headings
        .iter()
        .map(|h| {
            column(h).unwrap_or_else(|message| {
                out.problems.push(RosterProblem { line: 1, column: h.clone(), message });
                Column::Other
            })
        })
        .collect();
    for (h, c) in headings.iter().zip(&columns) {
        if matches!(c, Column::Other) && !out.problems.iter().any(|p| p.column == *h) {
            out.say(1, h, "I do not use this column.");
        }
    }
    if !columns.iter().any(|c| matches!(c, Column::Name)) {
        out.say(1, "", "The first row needs a column called name.");
        return out;
    }
    // said once for the whole table, not for every row
    for (heading, there, words) in [
        ("standard", columns.iter().any(|c| matches!(c, Column::Standard)), "heavier for everybody"),
        ("level", columns.iter().any(|c| matches!(c, Column::Level)), "regular for everybody"),
    ] {
        if !there {
            out.say(1, heading, &format!("This column is missing: I read {words}."));
        }
    }
    for record in reader.records() {
        match record {
            Ok(r) => {
                let line = r.position().map_or(0, csv::Position::line);
                out.row(line, &headings, &columns, &r);
            }
            Err(e) => out.say(0, "", &format!("A row cannot be read: {e}.")),
        }
    }
    out
}

impl Roster {
    fn say(&mut self, line: u64, column: &str, message: &str) {
        self.problems.push(RosterProblem { line, column: column.to_owned(), message: message.to_owned() });
    }

    fn row(&mut self, line: u64, headings: &[String], columns: &[Column], r: &csv::StringRecord) {
        let mut m = Member::unknown("", Standard::Heavier, Level::Regular);
        let is = |fits: fn(&Column) -> bool| !columns.iter().any(fits);
        let mut standard = is(|c| matches!(c, Column::Standard));
        let mut level = is(|c| matches!(c, Column::Level));
        for ((heading, column), cell) in headings.iter().zip(columns).zip(r.iter()) {
            if cell.is_empty() {
                continue;
            }
            standard |= matches!(column, Column::Standard);
            level |= matches!(column, Column::Level);
            if let Err(message) = fill(&mut m, column, cell) {
                self.say(line, heading, &message);
            }
        }
        if m.name.is_empty() {
            self.say(line, "name", "This row has no name. I left it out.");
        } else if crate::people::name(&m.name).is_none() {
            self.say(line, "name", "A name has at most 80 characters. I left this row out.");
        } else if self.members.iter().any(|o| o.name.to_lowercase() == m.name.to_lowercase()) {
            self.say(line, "name", &format!("{} stands in the file twice. I kept the first.", m.name));
        } else {
            if !standard {
                self.say(
                    line,
                    "standard",
                    &format!("{} has none: I read heavier. Write heavier or lighter.", m.name),
                );
            }
            if !level {
                self.say(
                    line,
                    "level",
                    &format!(
                        "{} has none: I read regular. Write new, regular, seasoned or competitive.",
                        m.name
                    ),
                );
            }
            m.id = m.name.clone();
            self.members.push(m);
        }
    }
}

fn fill(m: &mut Member, column: &Column, cell: &str) -> Result<(), String> {
    let low = cell.to_ascii_lowercase();
    let number = |from: f64, to: f64, what: &str| number_between(cell, from, to, what);
    match column {
        Column::Name => m.name = cell.to_owned(),
        Column::Standard => {
            m.standard = match low.chars().next() {
                Some('h') => Standard::Heavier,
                Some('l') => Standard::Lighter,
                _ => return Err("Write heavier or lighter.".to_owned()),
            }
        }
        Column::Level => {
            m.level = Level::ALL
                .into_iter()
                .find(|l| l.word() == low)
                .ok_or("Write new, regular, seasoned or competitive.")?;
        }
        Column::Mass => m.body_mass_kg = Some(number(25.0, 250.0, "body mass in kg")?),
        Column::Stature => m.stature_cm = Some(number(100.0, 230.0, "stature in cm")?),
        Column::Limits => {
            let all = low.split([';', ',']).map(str::trim).filter(|l| !l.is_empty());
            m.limits = all.map(read_limit).collect::<Result<_, _>>()?;
        }
        Column::Max { lift, pounds } => m.maxes.push(read_max(lift, cell, *pounds)?),
        Column::Unbroken(movement) => {
            let reps = number(0.0, 1000.0, "number of reps")?;
            m.unbroken.push(Best { movement: movement.clone(), reps, date: None });
        }
        Column::Time(test) => {
            let seconds = read_clock(cell, 1.0).map(f64::from).filter(|s| (60.0..=3600.0).contains(s));
            let seconds = seconds.ok_or_else(|| format!("“{cell}” is no time. Write, say, 7:45."))?;
            if !matches!(test.as_str(), "row-2000" | "run-1000") {
                return Err("I use time:row-2000 and time:run-1000.".to_owned());
            }
            m.trials.push(Trial { test: test.clone(), seconds, date: None });
        }
        Column::Other => {}
    }
    Ok(())
}

/// `100`, `100x5`, `100x5@2026-09-01`.
fn read_max(lift: &str, cell: &str, pounds: bool) -> Result<Max, String> {
    let wrong = || format!("“{cell}” is no lift. Write 100, 100x5 or 100x5@2026-09-01.");
    let (load, date) = match cell.split_once('@') {
        Some((l, d)) => (l.trim(), Some(d.trim().parse::<NaiveDate>().map_err(|_| wrong())?)),
        None => (cell, None),
    };
    let (kg, reps) = match load.split_once(['x', 'X', '×']) {
        Some((k, r)) => (k.trim(), r.trim().parse::<u32>().map_err(|_| wrong())?),
        None => (load, 1),
    };
    let kg = read_number(kg).map(|v| if pounds { v * KG_PER_LB } else { v }).ok_or_else(wrong)?;
    if !(1.0..=500.0).contains(&kg) || !(1..=30).contains(&reps) {
        return Err(wrong());
    }
    Ok(Max { lift: lift.to_owned(), kg: (kg * 100.0).round() / 100.0, reps, reserve: 0, date })
}
