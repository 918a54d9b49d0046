//! Inline SVG: finished drawings as text, positions in per cent so that they reflow.

pub mod bars;
pub mod lane;
pub mod pace;
pub mod paces;
pub mod progress;
pub mod rail;
pub mod squares;
pub mod stack;
pub mod strip;
pub mod strip_of_hour;

/// Text inside SVG or an attribute.
pub fn esc(text: &str) -> String {
    let mut out = String::with_capacity(text.len());
    for c in text.chars() {
        match c {
            '&' => out.push_str("&amp;"),
            '<' => out.push_str("&lt;"),
            '>' => out.push_str("&gt;"),
            '"' => out.push_str("&quot;"),
            '\'' => out.push_str("&#39;"),
            c => out.push(c),
        }
    }
    out
}

#[cfg(test)]
mod tests {
    #[test]
    fn names_cannot_become_markup() {
        assert_eq!(super::esc("<b>'a' & \"b\""), "&lt;b&gt;&#39;a&#39; &amp; &quot;b&quot;");
    }
}
