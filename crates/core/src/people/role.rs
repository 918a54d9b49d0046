//! Who may do what in a hall: one table.

use serde::{Deserialize, Serialize};

/// What an account is in its hall.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Role {
    /// Everything.
    Owner,
    /// What a coach does, and what the hall settles once.
    HeadCoach,
    /// Classes, members and results.
    Coach,
    /// The week and who is booked; nothing of what is known of anybody.
    FrontDesk,
}

/// Something that not everybody may do.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Act {
    /// One's own account.
    Own,
    /// The week, and who is booked.
    Book,
    /// Plans, walls, results; members with what is known of them and their limits; kit and cycles.
    Coach,
    /// What the hall settles once.
    Settle,
    /// Who signs in, and as what.
    People,
    /// Erasing a member for good.
    Erase,
}

use Role::{Coach, FrontDesk, HeadCoach, Owner};

/// What there is to do, in words, and who may.
const MAY: [(Act, &str, &[Role]); 6] = [
    (Act::Own, "their own password and sign-ins", &[Owner, HeadCoach, Coach, FrontDesk]),
    (
        Act::Book,
        "the week: make, move and cancel classes, book members",
        &[Owner, HeadCoach, Coach, FrontDesk],
    ),
    (
        Act::Coach,
        "plans, walls and results; members with their limits and what is known of them; kit and cycles",
        &[Owner, HeadCoach, Coach],
    ),
    (Act::Settle, "the hall’s settings", &[Owner, HeadCoach]),
    (Act::People, "who signs in, and as what", &[Owner]),
    (Act::Erase, "erasing a member who left, for good", &[Owner]),
];

impl Act {
    /// All, what most may first.
    pub fn all() -> impl Iterator<Item = Act> {
        MAY.iter().map(|(a, ..)| *a)
    }

    fn row(self) -> (&'static str, &'static [Role]) {
        MAY.iter().find(|(a, ..)| *a == self).map_or(("", &[]), |(_, words, who)| (words, who))
    }

    /// What it is, in words.
    pub fn words(self) -> &'static str {
        self.row().0
    }

    /// Who may, as it is told to somebody who may not: `an owner or a head coach`.
    ///
    /// ```
    /// use lantern_core::people::Act;
    /// assert_eq!(Act::Settle.who(), "an owner or a head coach");
    /// assert_eq!(Act::Coach.who(), "an owner, a head coach or a coach");
    /// ```
    pub fn who(self) -> String {
        let named: Vec<&str> = self.row().1.iter().map(|r| r.with_article()).collect();
        match named.split_last() {
            Some((last, [])) => (*last).to_owned(),
            Some((last, others)) => format!("{} or {last}", others.join(", ")),
            None => "nobody".to_owned(),
        }
    }
}

impl Role {
    /// All, who may most first.
    pub const ALL: [Role; 4] = [Owner, HeadCoach, Coach, FrontDesk];

    /// Whether somebody may.
    pub fn may(self, act: Act) -> bool {
        act.row().1.contains(&self)
    }

    /// As it is kept and sent.
    pub fn word(self) -> &'static str {
        match self {
            Owner => "owner",
            HeadCoach => "head-coach",
            Coach => "coach",
            FrontDesk => "front-desk",
        }
    }

    /// From what is kept or sent.
    pub fn read(word: &str) -> Option<Role> {
        Role::ALL.into_iter().find(|r| r.word() == word)
    }

    /// As people read it.
    pub fn name(self) -> &'static str {
        match self {
            Owner => "owner",
            HeadCoach => "head coach",
            Coach => "coach",
            FrontDesk => "front desk",
        }
    }

    fn with_article(self) -> &'static str {
        match self {
            Owner => "an owner",
            HeadCoach => "a head coach",
            Coach => "a coach",
            FrontDesk => "the front desk",
        }
    }

    /// What they may do, in a few words.
    pub fn says(self) -> &'static str {
        match self {
            Owner => "everything, people and settings too",
            HeadCoach => "classes, members, results and the hall’s settings",
            Coach => "classes, members and results",
            FrontDesk => "the week and who is booked; no plans, no limits, no results",
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_act_has_its_row_and_every_role_its_word() {
        for act in [Act::Own, Act::Book, Act::Coach, Act::Settle, Act::People, Act::Erase] {
            assert!(Act::all().any(|a| a == act) && !act.words().is_empty() && Owner.may(act), "{act:?}");
        }
        for role in Role::ALL {
            assert_eq!(Role::read(role.word()), Some(role));
            assert!(role.may(Act::Own));
        }
        assert_eq!(Role::read("janitor"), None);
    }

    #[test]
    fn who_may_less_may_nothing_that_who_may_more_may_not() {
        for pair in Role::ALL.windows(2) {
            assert!(Act::all().all(|a| pair[0].may(a) || !pair[1].may(a)), "{pair:?}");
        }
        assert!(!FrontDesk.may(Act::Coach) && !Coach.may(Act::Settle) && !HeadCoach.may(Act::People));
    }
}
