//! Letters that leave the house: links to join and to set a new password. How they are sent is the business of whoever starts the
//! server; without a way they are given by hand.

use crate::app::App;
use crate::session::apart;
use lantern_store::link::{JOIN_DAYS, RESET_HOURS};
use std::sync::Arc;

/// A letter.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Letter {
    /// E-mail of whom it is for.
    pub to: String,
    /// Their name.
    pub name: String,
    /// What it is about.
    pub subject: String,
    /// Plain text.
    pub text: String,
}

/// A way to send letters.
pub trait Post: Send + Sync {
    /// Sends one; it may take seconds.
    ///
    /// # Errors
    /// Says why not, for the log.
    fn send(&self, letter: &Letter) -> Result<(), String>;
}

/// The way of a server, and the address under which people reach it: letters never name what a request claims.
#[derive(Clone)]
pub struct Office {
    /// How.
    pub post: Arc<dyn Post>,
    /// `https://hall.example`, without a slash at its end.
    pub address: String,
}

/// What a link in a letter is for.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum About {
    /// To join a hall.
    Joining,
    /// To set a new password.
    Password,
}

/// The letter with a link.
pub fn letter(about: About, hall: &str, (name, to): (&str, &str), link: &str) -> Letter {
    let (subject, says) = match about {
        About::Joining => (
            format!("Join {hall}"),
            format!(
                "you are invited to plan and log classes at {hall}. Open this link within {JOIN_DAYS} days and choose a password of your own:"
            ),
        ),
        About::Password => (
            format!("A new password for {hall}"),
            format!(
                "with this link you set a new password for {hall}, within {RESET_HOURS} hours. If you did not ask for it, do nothing: your password stays."
            ),
        ),
    };
    let text = format!("Hello {name},\n\n{says}\n\n{link}\n\nIt works once. Give it to nobody else.\n");
    Letter { to: to.to_owned(), name: name.to_owned(), subject, text }
}

/// Sends a letter where there is a way, and says in words how that went; `None` without a way.
pub async fn sent(app: &App, letter: Letter) -> Option<String> {
    let office = app.office.clone()?;
    let to = letter.to.clone();
    let done = apart(move |_| Ok(office.post.send(&letter))).await.unwrap_or_else(|e| Err(e.to_string()));
    let Err(why) = done else { return Some(format!("It is sent to {to} as well.")) };
    tracing::error!("a letter was not sent: {why}");
    Some(format!(
        "The letter to {to} could not be sent; why stands in the server’s log. Give them the link yourself."
    ))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_letter_says_whose_link_it_is_and_for_how_long() {
        let of =
            |about| letter(about, "Quay Hall", ("Tam", "tam@hall.example"), "https://hall.example/join/x");
        let (join, new) = (of(About::Joining), of(About::Password));
        assert_eq!((join.subject.as_str(), join.to.as_str()), ("Join Quay Hall", "tam@hall.example"));
        assert!(join.text.contains("within 7 days") && join.text.contains("https://hall.example/join/x"));
        assert!(new.text.contains("within 24 hours") && new.text.contains("your password stays"));
    }
}
