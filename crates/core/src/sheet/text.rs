//! From pasted text to plain lines, character for character, so that columns stay true; and what the dress of a line
//! says: letters and part numbers, bold, hashes, blank lines above, cells of a table.

/// One line of the sheet, or a piece of it, with what does not matter taken away.
#[derive(Debug, Clone)]
pub(super) struct Line {
    /// From 1.
    pub number: u32,
    /// Characters before `text` on the line as typed.
    pub indent: u32,
    /// Without bullets, comment, spaces around and a trailing comma.
    pub text: String,
    /// `text` in lower case, same length in bytes.
    pub low: String,
}

/// A letter or number before a line: `A)`, `B1.`, `Part 2:`.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub(super) struct Label {
    /// `a` to `h`.
    pub letter: Option<char>,
    /// Its number.
    pub number: Option<u32>,
    /// `part`, `block` or `section` stood before it.
    pub part: bool,
}

/// A line and its dress.
#[derive(Debug, Clone)]
pub(super) struct Row {
    /// What is left to be read.
    pub line: Line,
    /// Letter or number before it.
    pub label: Option<Label>,
    /// Hashes before it.
    pub hashes: u8,
    /// Stars, underscores or a picture stood around its first words.
    pub bold: bool,
    /// Nothing stands on the line above.
    pub gap: bool,
    /// A level by the colour of a disc before it: green 1, yellow 2, red 3.
    pub level: Option<u32>,
    /// Typed in square brackets, or with them around.
    pub bracketed: bool,
}

impl Line {
    /// A line without words.
    pub fn empty(number: u32) -> Line {
        Line { number, indent: 0, text: String::new(), low: String::new() }
    }

    /// Column (from 1) of a byte offset into `text`.
    pub fn column(&self, at: usize) -> u32 {
        self.indent + self.text.get(..at).map_or(0, |s| s.chars().count() as u32) + 1
    }

    /// The rest of the line from a byte offset, as a line of its own at its place.
    pub fn from(&self, at: usize) -> Line {
        let rest = self.text.get(at..).unwrap_or_default();
        let start = at + (rest.len() - rest.trim_start().len());
        let text = self.text.get(start..).unwrap_or_default().trim_end().to_owned();
        Line { number: self.number, indent: self.column(start) - 1, low: text.to_ascii_lowercase(), text }
    }
}

fn plain(c: char) -> char {
    match c {
        '\u{2010}'..='\u{2015}' | '\u{2212}' => '-',
        '×' | '✕' | '✖' => 'x',
        '\u{2018}' | '\u{2019}' | '\u{2032}' | '`' | '´' => '\'',
        '\u{201c}' | '\u{201d}' | '\u{201e}' | '\u{2033}' | '«' | '»' => '"',
        '\u{2026}' => '.',
        '≥' | '≤' => c,
        '\t' => '|',
        '•' | '·' => ',',
        '~' => ' ',
        c if c.is_alphanumeric() || c.is_ascii_graphic() => c,
        _ => ' ',
    }
}

/// A line as typed made plain; `None` for one without content. `gap`: nothing stands above it.
pub(super) fn row(number: u32, raw: &str, gap: bool) -> Option<Row> {
    let picture = raw.trim_start().chars().next().is_some_and(|c| !c.is_ascii() && !c.is_alphanumeric());
    let level = match raw.trim_start().chars().next() {
        Some('🟢' | '💚' | '🟩') => Some(1),
        Some('🟡' | '🟠' | '💛' | '🟨' | '🔵') => Some(2),
        Some('🔴' | '🟥') => Some(3),
        Some('⚫') => Some(4),
        _ => None,
    };
    let mut text: String = raw.chars().map(plain).collect();
    arrows(&mut text);
    if let Some(at) = comment(&text) {
        text.truncate(at);
    }
    spreadsheet_quotes(&mut text);
    let bold = stars(&mut text) || picture;
    let mut line = Line { number, indent: 0, low: String::new(), text }.from(0);
    line = line.from(cells(&line.text));
    let bullet = bullet(&line.text);
    line = line.from(bullet);
    let hashes = line.text.len() - line.text.trim_start_matches('#').len();
    line = line.from(hashes);
    let mut label = None;
    if let Some((found, end)) = self::label(&line.low).filter(|(_, end)| *end < line.text.len()) {
        label = Some(found);
        line = line.from(end);
        line = line.from(cells(&line.text));
    }
    let bracketed = line.text.starts_with('[') && line.text.ends_with(']');
    let trimmed = line.text.trim_end_matches([',', ';', ' ', '|']).len();
    line.text.truncate(trimmed);
    line.low = line.text.to_ascii_lowercase();
    let hashes = u8::try_from(hashes).unwrap_or(u8::MAX);
    line.text.contains(char::is_alphanumeric).then_some(Row {
        line,
        label,
        hashes,
        bold,
        gap,
        level,
        bracketed,
    })
}

/// `//` begins a comment, but not inside a web address.
fn comment(text: &str) -> Option<usize> {
    text.match_indices("//").map(|(i, _)| i).find(|i| !text.get(..*i).is_some_and(|s| s.ends_with(':')))
}

/// Marks between the parts of a line become semicolons: an arrow to a number (`30 cal bike -> 30 burpees`), and `//` between
/// things that are counted (`5 RFT // 400 m run // 15 swings`). Behind what is missing an arrow is a colon.
fn arrows(text: &mut String) {
    for mark in ["->", "=>", "//"] {
        let counts = |rest: &str| rest.trim_start().starts_with(|c: char| c.is_ascii_digit() || c == ':');
        let all: Vec<usize> = text.match_indices(mark).map(|(i, _)| i).filter(|i| *i > 0).collect();
        let counted = |i: &usize| text.get(i + 2..).is_some_and(counts);
        // what stands between slashes on one line is all of one kind
        let any = mark == "//" && all.iter().any(counted);
        let places: Vec<usize> = all.into_iter().filter(|i| any || counted(i)).collect();
        for at in places {
            let before = text.get(..at).unwrap_or_default();
            let piece =
                before.rsplit([';', '[', '(', ',']).next().unwrap_or_default().trim().to_ascii_lowercase();
            let missing = ["no ", "if no ", "without "].iter().any(|w| piece.starts_with(w));
            if mark != "//" || !before.trim().is_empty() && !before.ends_with(':') {
                text.replace_range(at..at + 2, if missing { ": " } else { "; " });
            }
        }
    }
}

/// Quotes that only hold a cell of a spreadsheet together become spaces.
fn spreadsheet_quotes(text: &mut String) {
    let Some(open) = text.find(",\"") else { return };
    let close = text.rfind('"').filter(|c| *c > open + 1);
    text.replace_range(open + 1..open + 2, " ");
    if let Some(c) = close {
        text.replace_range(c..=c, " ");
    }
}

/// Stars and underscores around words become spaces (`5*5` keeps a sign for times); whether there were any.
fn stars(text: &mut String) -> bool {
    if !text.contains(['*', '_']) {
        return false;
    }
    let chars: Vec<char> = text.chars().collect();
    let digit = |i: Option<usize>| i.and_then(|i| chars.get(i)).is_some_and(char::is_ascii_digit);
    let mut bold = false;
    let bullet = text.trim_start().starts_with("* ");
    let out: String = chars
        .iter()
        .enumerate()
        .map(|(i, c)| match c {
            '*' if digit(i.checked_sub(1)) && digit(Some(i + 1)) => 'x',
            '*' | '_' => {
                bold = true;
                ' '
            }
            c => *c,
        })
        .collect();
    let first = out.chars().zip(&chars).find(|(_, c)| !c.is_whitespace()).is_some_and(|(o, _)| o == ' ');
    *text = out;
    bold && first && !bullet
}

/// Length of empty cells at the start of a row.
fn cells(text: &str) -> usize {
    text.len() - text.trim_start_matches(['|', ';', ',', ' ']).len()
}

/// Length of a bullet at the start of a line.
fn bullet(text: &str) -> usize {
    let marks = ["- [ ] ", "- [x] ", "- ", "+ ", "> ", "-> ", "=> ", ". "];
    marks.iter().find(|m| text.starts_with(**m)).map_or(0, |m| m.len())
}

/// `Part B`, `Block 2:` with nothing else on the line.
pub(super) fn only_label(low: &str) -> Option<Label> {
    let (label, end) = label(low).filter(|(l, _)| l.part)?;
    low.get(end..)?.trim_matches([' ', ':', '.', ')', '-']).is_empty().then_some(label)
}

/// A) B1. Part 2: 3) at the start of a line, and its length.
fn label(low: &str) -> Option<(Label, usize)> {
    let word = ["part ", "block ", "section ", "piece "].iter().find(|w| low.starts_with(**w));
    let at = word.map_or(0, |w| w.len());
    let rest = low.get(at..)?;
    const WORDS: [&str; 6] = ["one", "two", "three", "four", "five", "six"];
    if let (Some(_), Some((n, w))) = (word, (1u32..).zip(WORDS).find(|(_, w)| rest.starts_with(w))) {
        let after = rest.get(w.len()..)?;
        let mark = [": ", " - ", ". ", ") "].iter().find(|m| after.starts_with(**m));
        let label = Label { letter: None, number: Some(n), part: true };
        return match mark {
            Some(m) => Some((label, at + w.len() + m.len())),
            None => after.trim_matches([':', '.', ' ']).is_empty().then_some((label, low.len())),
        };
    }
    let letter = rest.chars().next().filter(|c| ('a'..='h').contains(c));
    let digits_at = usize::from(letter.is_some());
    let digits = rest.get(digits_at..)?.bytes().take_while(u8::is_ascii_digit).count();
    let number = rest.get(digits_at..digits_at + digits).and_then(|d| d.parse().ok());
    if digits > 2 || (letter.is_none() && number.is_none()) {
        return None;
    }
    let label = Label { letter, number, part: word.is_some() };
    let end = digits_at + digits;
    let after = rest.get(end..)?;
    if after.is_empty() && word.is_some() {
        return Some((label, at + end));
    }
    let mark = [". ", ") ", ": ", "|", " - ", " | ", ".) ", " ) "].iter().find(|m| after.starts_with(**m));
    match mark {
        // `10 - 9 - 8` and `1 - 3 sets` are numbers; a list counts from 1 and goes on with words or larger things
        Some(m) if letter.is_none() && word.is_none() && m.contains('-') => {
            let next = after.get(m.len()..)?;
            let second = next.bytes().take_while(u8::is_ascii_digit).count();
            let scheme = next.get(second..).is_some_and(|t| t.starts_with(" -") || t.trim().is_empty());
            (!scheme && number.is_some_and(|n| n <= 9)).then_some((label, at + end + m.len()))
        }
        // a cell that holds only a number is an amount, not a label
        Some(m) if letter.is_none() && word.is_none() && m.contains('|') => None,
        Some(m) => Some((label, at + end + m.len())),
        None if word.is_some() && after.starts_with([',', ' ', '-', '(']) => Some((label, at + end)),
        None if word.is_some() && [")", ":"].contains(&after) => Some((label, at + end + 1)),
        None => None,
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn of(raw: &str) -> (String, Option<Label>, bool) {
        let r = row(1, raw, false).unwrap();
        (r.line.text, r.label, r.bold)
    }

    #[test]
    fn dress_is_taken_off_and_kept_as_evidence() {
        let label = |letter, number, part| Some(Label { letter, number, part });
        assert_eq!(
            of("B1) DB row 3x10 ea"),
            ("DB row 3x10 ea".into(), label(Some('b'), Some(1), false), false)
        );
        assert_eq!(of("**WOD** for time"), ("WOD   for time".into(), None, true));
        assert_eq!(of("PART A: clean").1, label(Some('a'), None, true));
        assert_eq!(of("1 - 12 cal row"), ("12 cal row".into(), label(None, Some(1), false), false));
        assert_eq!(of("10 - 9 - 8 for time").1, None);
        assert_eq!(of("5*5 back squat").0, "5x5 back squat");
        assert_eq!(of("\t12 cal bike\t\t"), ("12 cal bike".into(), None, false));
        assert_eq!(of("🔸 box jumps"), ("box jumps".into(), None, true));
        assert_eq!(of(",50 cal row,").0, "50 cal row");
        assert_eq!(of("Strength,Deadlift,\"4 x 6, rest 2'30\"").0, "Strength,Deadlift, 4 x 6, rest 2'30");
        assert_eq!(of("5 RFT // 400m run // TC 18").0, "5 RFT ;  400m run ;  TC 18");
        assert_eq!(of("30 cal -> 30 burpees").0, "30 cal ;  30 burpees");
        assert_eq!(of("[no rower -> 200m run]").0, "[no rower :  200m run]");
        assert_eq!(of("part two: row"), ("row".into(), label(None, Some(2), true), false));
        assert!(row(1, "- - -", false).is_none());
        assert!(row(1, "// why", false).is_none() && row(1, "  \t ", true).is_none());
    }

    #[test]
    fn columns_are_those_of_the_typed_line() {
        let r = row(3, "  • 12 toes-to-baar", false).unwrap();
        assert_eq!((r.line.text.as_str(), r.line.column(0), r.line.column(3)), ("12 toes-to-baar", 5, 8));
    }
}
