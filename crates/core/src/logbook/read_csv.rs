//! Results from a CSV file with the columns `date`, `sheet`, `member`, `version`, `result`, `capped`: comma or semicolon, in any order;
//! results as they are typed.

use crate::versions::Tier;
use chrono::NaiveDate;

/// What stands in a file of results.
#[derive(Debug, Clone, PartialEq)]
pub struct ResultRow {
    /// Line of the file, from 1.
    pub line: u64,
    /// Day of the class.
    pub date: NaiveDate,
    /// Its sheet, as the file names it.
    pub sheet: String,
    /// Name of the member.
    pub member: String,
    /// The version that was done.
    pub tier: Tier,
    /// As typed: `12:34`, `5+12`, `143`.
    pub result: String,
    /// The cap ended it.
    pub capped: bool,
}

/// Rows that can be read, by day, and what cannot, in words with its line.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct ResultsFile {
    /// Oldest day first; rows of a day in the file's order.
    pub rows: Vec<ResultRow>,
    /// What was left out and why.
    pub problems: Vec<(u64, String)>,
}

const COLUMNS: [&str; 6] = ["date", "sheet", "member", "version", "result", "capped"];

/// Reads a file of results.
///
/// # Errors
/// Names the columns that are missing.
pub fn read_results(text: &str) -> Result<ResultsFile, String> {
    let first = text.lines().next().unwrap_or_default();
    let delimiter = if first.contains(';') { b';' } else { b',' };
    let mut reader = csv::ReaderBuilder::new()
        .delimiter(delimiter)
        .flexible(true)
        .trim(csv::Trim::All)
        .from_reader(text.trim_start_matches('\u{feff}').as_bytes());
    let headings: Vec<String> = reader
        .headers()
        .map(|h| h.iter().map(str::to_ascii_lowercase).collect())
        .map_err(|e| format!("The first line cannot be read: {e}."))?;
    let at = |name: &str| headings.iter().position(|h| h == name);
    let missing: Vec<&str> = COLUMNS.into_iter().filter(|c| *c != "capped" && at(c).is_none()).collect();
    if !missing.is_empty() {
        return Err(format!(
            "The first line must name {}; {} is missing.",
            COLUMNS.join(", "),
            missing.join(", ")
        ));
    }
    let mut out = ResultsFile::default();
    for (i, record) in reader.records().enumerate() {
        let line = record
            .as_ref()
            .ok()
            .and_then(csv::StringRecord::position)
            .map_or(i as u64 + 2, csv::Position::line);
        let read = record.map_err(|e| format!("This line cannot be read: {e}.")).and_then(|record| {
            let cell = |name: &str| at(name).and_then(|i| record.get(i)).unwrap_or_default().to_owned();
            row(line, cell)
        });
        match read {
            Ok(row) => out.rows.push(row),
            Err(words) => out.problems.push((line, words)),
        }
    }
    out.rows.sort_by_key(|r| r.date);
    Ok(out)
}

fn row(line: u64, cell: impl Fn(&str) -> String) -> Result<ResultRow, String> {
    let date = cell("date");
    let date = NaiveDate::parse_from_str(&date, "%Y-%m-%d")
        .map_err(|_| format!("“{date}” is no day: write it as 2026-11-24."))?;
    let version = cell("version");
    let tier = Tier::read(&version.to_ascii_lowercase())
        .ok_or_else(|| format!("“{version}” is no version: write full, trim or base."))?;
    let capped = match cell("capped").to_ascii_lowercase().as_str() {
        "" | "no" | "0" | "false" => false,
        "yes" | "1" | "true" | "cap" => true,
        other => return Err(format!("“{other}” under capped: write yes, or leave it empty.")),
    };
    let (sheet, member, result) = (cell("sheet"), cell("member"), cell("result"));
    if sheet.is_empty() || member.is_empty() || (result.is_empty() && !capped) {
        return Err("A row needs its sheet, its member and its result.".to_owned());
    }
    Ok(ResultRow { line, date, sheet, member, tier, result, capped })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn rows_are_read_in_any_order_of_columns_and_sorted_by_day() {
        let text = "result;member;date;version;sheet;capped\n12:34;Bo;2026-11-20;full;a.txt;\n15:00;Ada;2026-11-18;Trim;b.txt;yes\n";
        let read = read_results(text).unwrap();
        assert!(read.problems.is_empty(), "{:?}", read.problems);
        let short: Vec<_> = read.rows.iter().map(|r| (r.line, r.member.as_str(), r.tier, r.capped)).collect();
        assert_eq!(short, [(3, "Ada", Tier::Trim, true), (2, "Bo", Tier::Full, false)]);
    }

    #[test]
    fn what_cannot_be_read_is_named_with_its_line() {
        let text = "date,sheet,member,version,result\nyesterday,a,Bo,full,9:00\n2026-11-20,a,Bo,most,9:00\n2026-11-20,a,,full,9:00\n2026-11-20,a,Bo,full,9:00\n";
        let read = read_results(text).unwrap();
        assert_eq!(read.rows.len(), 1);
        let lines: Vec<u64> = read.problems.iter().map(|p| p.0).collect();
        assert_eq!(lines, [2, 3, 4]);
        assert!(
            read.problems[0].1.contains("2026-11-24") && read.problems[1].1.contains("full, trim or base")
        );
        assert!(
            read_results("date,who\n").unwrap_err().contains("sheet, member, version, result is missing")
        );
        assert!(read_results("").is_err());
    }
}
