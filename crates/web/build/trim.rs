//! Takes out of a style sheet what no page uses: rules of classes that stand in no page, and variables that no kept rule reads. What is in
//! doubt stays.

use std::collections::{BTreeMap, BTreeSet};

/// A part of a style sheet.
#[derive(Debug, Clone, PartialEq)]
enum Part {
    /// `@charset "UTF-8";`
    Statement(String),
    /// Selectors and what they set.
    Rule(Vec<String>, Vec<String>),
    /// Parts under a condition: `@media (…) { … }`.
    Under(String, Vec<Part>),
    /// `@keyframes name { … }`, as it stands.
    Frames(String, String),
}

/// Words that could name a class: letters, digits, `-` and `_`.
pub fn words(text: &str) -> BTreeSet<String> {
    let of = |c: char| c.is_ascii_alphanumeric() || matches!(c, '-' | '_');
    text.split(|c| !of(c)).filter(|w| !w.is_empty()).map(str::to_owned).collect()
}

/// The sheet without what is not used: `used` are the words of all pages, `others` the sheets that read its variables.
pub fn trimmed(css: &str, used: &BTreeSet<String>, others: &[&str]) -> String {
    let parts = kept(parse(css), used);
    let mut reads: BTreeSet<String> = others.iter().flat_map(|o| variables(o)).collect();
    let mut sets: BTreeMap<String, BTreeSet<String>> = BTreeMap::new();
    each_rule(&parts, &mut |declarations| {
        for d in declarations {
            match own_variable(d) {
                Some(name) => sets.entry(name.to_owned()).or_default().extend(variables(d)),
                None => reads.extend(variables(d)),
            }
        }
    });
    let mut open: Vec<String> = reads.iter().cloned().collect();
    while let Some(name) = open.pop() {
        let new: Vec<String> =
            sets.get(&name).into_iter().flatten().filter(|v| !reads.contains(*v)).cloned().collect();
        reads.extend(new.iter().cloned());
        open.extend(new);
    }
    let mut out = String::new();
    let mut frames = String::new();
    each_rule(&parts, &mut |d| frames.push_str(&d.join(" ")));
    let frames = words(&frames);
    write(&parts, &|v| reads.contains(v), &|f| frames.contains(f), &mut out);
    out
}

/// A sheet without its notes, in which `data-theme=system` looks like the theme that the machine asks for.
pub fn themed(css: &str) -> String {
    let mut out = String::new();
    let all = |_: &str| true;
    write(&with_system(parse(css)), &all, &all, &mut out);
    out
}

/// The faces of a sheet, for screens that stay open for hours: they take one whenever it comes.
pub fn patient_faces(css: &str) -> String {
    let faces = css.split("@font-face").skip(1).filter_map(|rest| rest.split_once('}'));
    let all: String = faces.map(|(face, _)| format!("@font-face{face}}}")).collect();
    all.replace("font-display:optional", "font-display:swap")
}

const LIGHT: &str = "[data-theme=light]";
const DARK: &str = "[data-theme=dark]";
const SYSTEM: &str = "[data-theme=system]";

fn with_system(parts: Vec<Part>) -> Vec<Part> {
    let mut out = Vec::new();
    for p in parts {
        match p {
            Part::Rule(mut selectors, declarations) => {
                let copies = |of: &str| -> Vec<String> {
                    let named = selectors.iter().filter(|s| s.contains(of));
                    named.map(|s| s.replace(of, SYSTEM)).collect()
                };
                let (light, dark) = (copies(LIGHT), copies(DARK));
                selectors.extend(light);
                out.push(Part::Rule(selectors, declarations.clone()));
                if !dark.is_empty() {
                    let rule = Part::Rule(dark, declarations);
                    out.push(Part::Under("@media (prefers-color-scheme:dark)".to_owned(), vec![rule]));
                }
            }
            Part::Under(condition, inner) => out.push(Part::Under(condition, with_system(inner))),
            other => out.push(other),
        }
    }
    out
}

/// The variable that a declaration sets.
fn own_variable(declaration: &str) -> Option<&str> {
    declaration.starts_with("--").then(|| declaration.split(':').next()).flatten()
}

/// Variables that a text reads.
fn variables(text: &str) -> BTreeSet<String> {
    let of =
        |rest: &str| rest.split(|c: char| !(c.is_ascii_alphanumeric() || c == '-')).next().map(str::to_owned);
    text.split("var(").skip(1).filter_map(|rest| of(rest.trim_start())).collect()
}

fn each_rule(parts: &[Part], of: &mut impl FnMut(&[String])) {
    for p in parts {
        match p {
            Part::Rule(_, declarations) => of(declarations),
            Part::Under(_, inner) => each_rule(inner, of),
            Part::Statement(_) | Part::Frames(..) => {}
        }
    }
}

fn kept(parts: Vec<Part>, used: &BTreeSet<String>) -> Vec<Part> {
    let one = |p: Part| match p {
        Part::Rule(selectors, declarations) => {
            let selectors: Vec<String> = selectors.into_iter().filter(|s| fits(s, used)).collect();
            (!selectors.is_empty()).then_some(Part::Rule(selectors, declarations))
        }
        Part::Under(condition, inner) => {
            let inner = kept(inner, used);
            (!inner.is_empty()).then_some(Part::Under(condition, inner))
        }
        other => Some(other),
    };
    parts.into_iter().filter_map(one).collect()
}

/// Whether a selector could find something: all its classes are used. What stands in brackets may be one of several, or none.
fn fits(selector: &str, used: &BTreeSet<String>) -> bool {
    let mut depth = 0;
    let bare: String = selector
        .chars()
        .filter(|c| {
            depth += i32::from(matches!(c, '(' | '[')) - i32::from(matches!(c, ')' | ']'));
            depth == 0
        })
        .collect();
    let name = |rest: &str| {
        rest.split([' ', '.', ':', '>', '+', '~', '#', ')', ']', '*', ',']).next().map(str::to_owned)
    };
    bare.split('.').skip(1).filter_map(name).all(|class| used.contains(&class))
}

/// Writes parts: variables that are read, moves that are made.
fn write(parts: &[Part], reads: &impl Fn(&str) -> bool, frames: &impl Fn(&str) -> bool, out: &mut String) {
    for p in parts {
        match p {
            Part::Statement(s) => out.push_str(s),
            Part::Rule(selectors, declarations) => {
                let needed = |d: &&String| own_variable(d).is_none_or(reads);
                let kept: Vec<&str> = declarations.iter().filter(needed).map(String::as_str).collect();
                if !kept.is_empty() {
                    out.push_str(&format!("{}{{{}}}", selectors.join(","), kept.join(";")));
                }
            }
            Part::Under(condition, inner) => {
                let mut body = String::new();
                write(inner, reads, frames, &mut body);
                if !body.is_empty() {
                    out.push_str(&format!("{condition}{{{body}}}"));
                }
            }
            Part::Frames(name, body) if frames(name) => {
                out.push_str(&format!("@keyframes {name}{{{body}}}"));
            }
            Part::Frames(..) => {}
        }
    }
}

fn parse(css: &str) -> Vec<Part> {
    let mut out = Vec::new();
    let mut rest = css.trim();
    while !rest.is_empty() {
        if let Some(comment) = rest.strip_prefix("/*") {
            let end = comment.find("*/").map_or(comment.len(), |i| i + 2);
            // a licence stays
            if comment.starts_with('!') {
                out.push(Part::Statement(format!("/*{}", &comment[..end])));
            }
            rest = comment[end..].trim_start();
            continue;
        }
        let stop = outside(rest, |c| matches!(c, '{' | ';')).unwrap_or(rest.len());
        let head = rest[..stop].trim();
        if !rest[stop..].starts_with('{') {
            out.push(Part::Statement(format!("{head};")));
            rest = rest.get(stop + 1..).unwrap_or("").trim_start();
            continue;
        }
        let body_and = &rest[stop + 1..];
        let end = closing(body_and);
        let body = &body_and[..end];
        out.push(match head.strip_prefix('@') {
            Some(at) if at.starts_with("keyframes") => {
                Part::Frames(at.trim_start_matches("keyframes").trim().to_owned(), body.to_owned())
            }
            Some(_) => Part::Under(head.to_owned(), parse(body)),
            None => Part::Rule(split(head, ','), split(body, ';')),
        });
        rest = body_and.get(end + 1..).unwrap_or("").trim_start();
    }
    out
}

/// The first place outside of quotes where a test holds of the character and of how many brackets of a kind are open.
fn first(text: &str, (open, close): (&[char], &[char]), fits: impl Fn(char, i32) -> bool) -> Option<usize> {
    let (mut quote, mut depth) = (None, 0);
    for (i, c) in text.char_indices() {
        match (quote, c) {
            (Some(q), c) if c == q => quote = None,
            (Some(_), _) => {}
            (None, '"' | '\'') => quote = Some(c),
            (None, c) if fits(c, depth) => return Some(i),
            (None, c) => depth += i32::from(open.contains(&c)) - i32::from(close.contains(&c)),
        }
    }
    None
}

/// The first place outside of quotes and brackets that fits.
fn outside(text: &str, fits: impl Fn(char) -> bool) -> Option<usize> {
    first(text, (&['(', '['], &[')', ']']), |c, depth| depth == 0 && fits(c))
}

/// Where the brace closes that stands before a text.
fn closing(text: &str) -> usize {
    first(text, (&['{'], &['}']), |c, depth| c == '}' && depth == 0).unwrap_or(text.len())
}

fn split(text: &str, at: char) -> Vec<String> {
    let mut out = Vec::new();
    let mut rest = text;
    loop {
        let end = outside(rest, |c| c == at);
        let one = rest[..end.unwrap_or(rest.len())].trim();
        if !one.is_empty() {
            out.push(one.to_owned());
        }
        match end {
            Some(i) => rest = &rest[i + 1..],
            None => return out,
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn of(css: &str, pages: &str) -> String {
        trimmed(css, &words(pages), &[])
    }

    #[test]
    fn what_a_page_names_stays_and_nothing_else_of_a_class() {
        let css = "@charset \"UTF-8\";/*! mine */a:hover{color:red}.button,.tag>b{margin:0}.tag.is-big,.button:not(.tag){top:0}";
        assert_eq!(
            of(css, "<a class=\"button\">"),
            "@charset \"UTF-8\";/*! mine */a:hover{color:red}.button{margin:0}.button:not(.tag){top:0}"
        );
        assert!(of(css, "class=\"tag\"").contains(".tag>b{margin:0}"));
        assert_eq!(of("/* note */.x{a:b}", "y"), "");
        assert_eq!(of(".is-1\\.5{top:0}", "is-1 5"), "", "a name with a mark is none of ours");
    }

    #[test]
    fn conditions_go_with_their_last_rule_and_moves_with_their_name() {
        let css = "@media (min-width:10px){.on{a:b}.off{a:c}}@media print{.off{a:b}}@keyframes turn{to{top:0}}@keyframes go{to{top:1px}}.on{animation:turn 1s}";
        assert_eq!(
            of(css, "on"),
            "@media (min-width:10px){.on{a:b}}@keyframes turn{to{top:0}}.on{animation:turn 1s}"
        );
    }

    #[test]
    fn a_variable_stays_while_something_that_stays_reads_it() {
        let css =
            ":root{--a:1;--b:var(--c);--c:2;--d:var(--a);--e:\"x;y{z\"}.on{top:var(--b)}.off{top:var(--d)}";
        assert_eq!(of(css, "on"), ":root{--b:var(--c);--c:2}.on{top:var(--b)}");
        assert_eq!(
            trimmed(css, &words("on"), &["i{left:var(--e)}"]),
            ":root{--b:var(--c);--c:2;--e:\"x;y{z\"}.on{top:var(--b)}"
        );
    }

    #[test]
    fn the_theme_of_the_machine_is_one_of_the_two() {
        let css = "/* tokens */:root,[data-theme=light]{--a:1}[data-theme=dark]{--a:2}@media print{[data-theme=dark] i{top:0}}";
        assert_eq!(
            themed(css),
            ":root,[data-theme=light],[data-theme=system]{--a:1}[data-theme=dark]{--a:2}\
             @media (prefers-color-scheme:dark){[data-theme=system]{--a:2}}\
             @media print{[data-theme=dark] i{top:0}@media (prefers-color-scheme:dark){[data-theme=system] i{top:0}}}"
        );
        let font = "@font-face{font-family:\"A;B\";src:url(a.woff2) format(\"woff2\")}@page{margin:1mm;@bottom-right{content:counter(page)}}";
        assert_eq!(
            themed(font),
            "@font-face{font-family:\"A;B\";src:url(a.woff2) format(\"woff2\");}@page{margin:1mm;@bottom-right{content:counter(page);}}"
        );
    }

    #[test]
    fn a_screen_that_stays_open_takes_a_face_that_comes_late() {
        let css = "/* x */@font-face{src:url(a);font-display:optional}a{b:c}@font-face{src:url(b);font-display:optional}";
        let own = "@font-face{src:url(a);font-display:swap}@font-face{src:url(b);font-display:swap}";
        assert_eq!(patient_faces(css), own);
        let served = std::str::from_utf8(crate::assets::text("screens.css").unwrap()).unwrap();
        assert_eq!(served.matches("font-display:swap").count(), 5);
    }

    #[test]
    fn everything_that_a_page_uses_of_the_vendored_sheet_is_in_what_is_served() {
        let (whole, served) = (
            include_str!("../static/vendor/bulma-1.0.4.min.css"),
            crate::assets::text("styles.css").unwrap(),
        );
        let served = std::str::from_utf8(served).unwrap();
        assert!(served.len() * 4 < whole.len(), "{} of {} bytes are left", served.len(), whole.len());
        assert!(served.contains("MIT License"), "the licence goes with it");
        for class in [".button", ".select", ".input", ".textarea", ".is-small", ".is-sr-only", ".table"] {
            assert!(served.contains(class), "{class}");
        }
        // what is set to nothing would look wrong
        let set: BTreeSet<String> =
            served.split(['{', ';', '}']).filter_map(own_variable).map(str::to_owned).collect();
        let lantern = include_str!("../static/lantern.css");
        let app = concat!(include_str!("../static/app.css"), include_str!("../static/floor.css"));
        let own: BTreeSet<String> = [lantern, app]
            .iter()
            .flat_map(|c| c.split(['{', ';', '}', ' ', '\n']))
            .filter_map(own_variable)
            .map(str::to_owned)
            .collect();
        // those of the page itself; a class that no page uses sets its own
        let mut in_whole = BTreeSet::new();
        for p in parse(whole) {
            if let Part::Rule(of, d) = p
                && of.iter().any(|s| s == ":root")
            {
                in_whole.extend(d.iter().filter_map(|d| own_variable(d)).map(str::to_owned));
            }
        }
        assert!(in_whole.len() > 200);
        let lost: Vec<String> = [served, lantern, app]
            .iter()
            .flat_map(|c| variables(c))
            .filter(|v| in_whole.contains(v) && !set.contains(v) && !own.contains(v))
            .collect();
        assert!(lost.is_empty(), "{lost:?}");
    }
}
