//! Phrases found at a place in a row of words: a tree over the letters of their matching forms, so that one walk finds
//! the longest, whatever hyphens and spaces were typed.

/// Phrases and what they mean. Keys are matching forms written together (`pushup`).
#[derive(Debug, Clone)]
pub(crate) struct Phrases<T> {
    nodes: Vec<Node<T>>,
}

#[derive(Debug, Clone)]
struct Node<T> {
    /// (letter, node), few each.
    next: Vec<(char, u32)>,
    means: Option<T>,
}

impl<T> Node<T> {
    fn new() -> Node<T> {
        Node { next: Vec::new(), means: None }
    }
}

impl<T> Default for Phrases<T> {
    fn default() -> Phrases<T> {
        Phrases { nodes: vec![Node::new()] }
    }
}

impl<T> Phrases<T> {
    /// Adds a phrase; the first meaning of a key stays.
    pub fn add(&mut self, key: &str, means: T) {
        let mut at = 0u32;
        for c in key.chars() {
            let known = self.node(at).and_then(|n| n.next.iter().find(|(l, _)| *l == c)).map(|(_, n)| *n);
            at = match known {
                Some(n) => n,
                None => {
                    let new = self.nodes.len() as u32;
                    self.nodes.push(Node::new());
                    if let Some(n) = self.nodes.get_mut(at as usize) {
                        n.next.push((c, new));
                    }
                    new
                }
            };
        }
        if let Some(n) = self.nodes.get_mut(at as usize).filter(|_| at > 0) {
            n.means.get_or_insert(means);
        }
    }

    fn node(&self, at: u32) -> Option<&Node<T>> {
        self.nodes.get(at as usize)
    }

    /// Tells every phrase that the words begin with, shortest first, and how many words each takes.
    pub fn each<'w, 'p>(&'p self, words: impl Iterator<Item = &'w str>, mut tell: impl FnMut(&'p T, usize)) {
        let mut at = 0u32;
        for (i, word) in words.enumerate() {
            for c in word.chars() {
                match self.node(at).and_then(|n| n.next.iter().find(|(l, _)| *l == c)) {
                    Some((_, n)) => at = *n,
                    None => return,
                }
            }
            if let Some(m) = self.node(at).and_then(|n| n.means.as_ref()).filter(|_| !word.is_empty()) {
                tell(m, i + 1);
            }
        }
    }

    /// The longest phrase that the words begin with, and how many words it takes. Empty words are passed over inside.
    pub fn longest<'w>(&self, words: impl Iterator<Item = &'w str>) -> Option<(&T, usize)> {
        let mut found = None;
        self.each(words, |m, n| found = Some((m, n)));
        found
    }

    /// The meaning of a key, made with `new` where there is none yet; `None` for an empty key.
    pub fn entry(&mut self, key: &str, new: impl FnOnce() -> T) -> Option<&mut T> {
        self.add(key, new());
        let mut at = 0u32;
        for c in key.chars() {
            at = self.node(at)?.next.iter().find(|(l, _)| *l == c)?.1;
        }
        self.nodes.get_mut(at as usize)?.means.as_mut()
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_longest_phrase_wins_and_ends_with_a_word() {
        let mut p = Phrases::default();
        p.add("push", 1);
        p.add("pushup", 2);
        p.add("pushup", 9);
        let find = |words: &[&str]| p.longest(words.iter().copied()).map(|(m, n)| (*m, n));
        assert_eq!(find(&["push", "up", "fast"]), Some((2, 2)));
        assert_eq!(find(&["pushup"]), Some((2, 1)));
        assert_eq!(find(&["push", "", "up"]), Some((2, 3)));
        assert_eq!(find(&["push", "upward"]), Some((1, 1)));
        assert_eq!(find(&["pus"]), None);
        assert_eq!(find(&[]), None);
    }
}
