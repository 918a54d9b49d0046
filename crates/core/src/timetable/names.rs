//! Names as they are pasted, one a line or as a column of a table, found among the members.

use crate::logbook::{Whom, whom};

/// Longest list that is read, lines; a longer one has to be cut.
pub const MOST_NAMES: usize = 500;
/// Headings of the column with the names.
const HEADINGS: [&str; 3] = ["name", "member", "members"];

/// A line that names nobody, or several.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Unclear {
    /// From 1.
    pub line: usize,
    /// As typed.
    pub text: String,
    /// Positions of those whom it may mean; none: nobody is called so.
    pub among: Vec<usize>,
}

/// Reads names: positions of those found, in the order of the lines, each once; and the lines that stay unclear.
///
/// ```
/// use lantern_core::timetable::read_names;
/// let members = ["Ada Vell", "Bea Orr"].map(str::to_owned);
/// let (found, unclear) = read_names("member;since\nbea;2024\nAda Vell;2025\nZoe", &members);
/// assert_eq!((found, unclear[0].line), (vec![1, 0], 4));
/// ```
pub fn read_names(text: &str, names: &[String]) -> (Vec<usize>, Vec<Unclear>) {
    let first = text.lines().find(|l| !l.trim().is_empty()).unwrap_or("");
    let gap = ['\t', ';', ','].into_iter().find(|c| first.contains(*c)).unwrap_or('\n');
    let cells = |line: &str| {
        line.split(gap).map(|c| c.trim().trim_matches('"').trim().to_owned()).collect::<Vec<_>>()
    };
    let heading = |c: &String| HEADINGS.contains(&c.to_lowercase().as_str());
    let column = cells(first).iter().position(heading);
    let (mut found, mut unclear) = (Vec::new(), Vec::new());
    for (i, line) in text.lines().enumerate().take(MOST_NAMES) {
        let cell = cells(line).into_iter().nth(column.unwrap_or(0)).unwrap_or_default();
        if cell.is_empty() || heading(&cell) {
            continue;
        }
        let among = match whom(&cell, names) {
            Whom::One(at) => {
                if !found.contains(&at) {
                    found.push(at);
                }
                continue;
            }
            Whom::Several(all) => all,
            Whom::Nobody => Vec::new(),
        };
        unclear.push(Unclear { line: i + 1, text: cell, among });
    }
    (found, unclear)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn lines_that_name_nobody_or_several_are_kept_with_their_place() {
        let names = ["Ada Vell", "Adan Orr", "Bea Orr"].map(str::to_owned);
        let read = |text: &str| read_names(text, &names);
        assert_eq!(read("Ada Vell\nbea\n\nBea Orr").0, [0, 2], "each once");
        let (found, unclear) = read("ada\norr\nZoe Quay");
        assert_eq!(found, Vec::<usize>::new());
        let told: Vec<_> = unclear.iter().map(|u| (u.line, u.text.as_str(), u.among.clone())).collect();
        assert_eq!(told, [(1, "ada", vec![0, 1]), (2, "orr", vec![1, 2]), (3, "Zoe Quay", vec![])]);
        // a column of a table, quoted, wherever it stands
        assert_eq!(read("when,Name\n18:00,\"Adan Orr\"\n18:00,Bea").0, [1, 2]);
        assert_eq!(read(""), (vec![], vec![]));
    }
}
