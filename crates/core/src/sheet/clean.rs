//! From pasted text to plain lines, character for character, so that columns stay true.

/// One line of the sheet with what does not matter taken away.
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

impl Line {
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

    /// Puts spaces where something was read, so that later columns stay true.
    pub fn blank(&mut self, at: std::ops::Range<usize>) {
        // one space for each character: digits of other scripts are longer than a byte
        let spaces = " ".repeat(self.text.get(at.clone()).map_or(at.len(), |t| t.chars().count()));
        if self.text.is_char_boundary(at.start) && self.text.is_char_boundary(at.end) {
            self.text.replace_range(at.clone(), &spaces);
            self.low.replace_range(at, &spaces);
        }
    }

    /// The part of the line between two byte offsets, at its place.
    pub fn slice(&self, from: usize, to: usize) -> Line {
        let cut = Line { text: self.text.get(..to).unwrap_or(&self.text).to_owned(), ..self.clone() };
        cut.from(from)
    }
}

fn plain(c: char) -> char {
    match c {
        '\u{2010}'..='\u{2015}' | '\u{2212}' => '-',
        '×' | '✕' | '✖' => 'x',
        '\u{2018}' | '\u{2019}' | '\u{2032}' => '\'',
        '\u{201c}' | '\u{201d}' | '\u{201e}' | '\u{2033}' | '«' | '»' => '"',
        '\u{2264}' => '≤',
        c if c.is_whitespace() => ' ',
        '\u{200b}' | '\u{feff}' => ' ',
        c if c.is_control() => ' ',
        c => c,
    }
}

/// A line as typed made plain; `None` for one without content.
pub(super) fn clean(number: u32, raw: &str) -> Option<Line> {
    let mut text: String = raw.chars().map(plain).collect();
    if let Some(at) = comment(&text) {
        text.truncate(at);
    }
    let mut line = Line { number, indent: 0, low: String::new(), text }.from(0);
    line = line.from(decoration(&line.text));
    line = line.from(bullet(&line.text));
    let trimmed = line.text.trim_end_matches([',', ';', ' ']).len();
    line.text.truncate(trimmed);
    line.low = line.text.to_ascii_lowercase();
    (!line.text.is_empty()).then_some(line)
}

/// `//` begins a comment, but not inside a web address.
fn comment(text: &str) -> Option<usize> {
    text.match_indices("//").map(|(i, _)| i).find(|i| !text.get(..*i).is_some_and(|s| s.ends_with(':')))
}

/// Length of pictures, arrows and ticks at the start of a line, as phones paste them.
fn decoration(text: &str) -> usize {
    text.len() - text.trim_start_matches(|c: char| !c.is_ascii() && !c.is_alphanumeric()).len()
}

/// Length of a bullet or number at the start of a line.
fn bullet(text: &str) -> usize {
    for mark in ["- ", "* ", "• ", "· ", "◦ ", "▪ ", "+ "] {
        if text.starts_with(mark) {
            return mark.len();
        }
    }
    if text.starts_with('•') {
        return '•'.len_utf8();
    }
    // A) B) and A1. A2. as coaches letter the exercises of a block
    let mut chars = text.chars();
    if chars.next().is_some_and(|c| c.is_ascii_alphabetic() && c.to_ascii_lowercase() <= 'h') {
        let digit = usize::from(chars.clone().next().is_some_and(|c| c.is_ascii_digit()));
        let after = text.get(1 + digit..).unwrap_or_default();
        if [". ", ") ", ": "].iter().any(|m| after.starts_with(m)) {
            return 3 + digit;
        }
    }
    let digits = text.bytes().take_while(u8::is_ascii_digit).count();
    let after = text.get(digits..).unwrap_or_default();
    if (1..=2).contains(&digits) && (after.starts_with(". ") || after.starts_with(") ")) {
        digits + 2
    } else {
        0
    }
}
