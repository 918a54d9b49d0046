//! What a password must be: long, and nothing that stands in everybody's list. No rule about digits and signs: length does more
//! than they do.

use thiserror::Error;

/// Least characters.
pub const LEAST: usize = 12;
/// Most characters: more is a file, and hashing it is work for nothing.
pub const MOST: usize = 200;

/// Words that half of all weak passwords are made of (own list).
const COMMON: [&str; 48] = [
    "password",
    "passwort",
    "passphrase",
    "letmein",
    "welcome",
    "qwerty",
    "qwertz",
    "azerty",
    "asdf",
    "admin",
    "administrator",
    "iloveyou",
    "secret",
    "changeme",
    "default",
    "login",
    "master",
    "dragon",
    "monkey",
    "football",
    "baseball",
    "superman",
    "batman",
    "sunshine",
    "princess",
    "shadow",
    "trustno",
    "whatever",
    "freedom",
    "starwars",
    "hello",
    "summer",
    "winter",
    "spring",
    "autumn",
    "coach",
    "coaching",
    "fitness",
    "training",
    "workout",
    "strength",
    "gym",
    "barbell",
    "lantern",
    "honest",
    "user",
    "guest",
    "test",
];

/// Keys in the order in which fingers run over them.
const RUNS: [&str; 5] = ["abcdefghijklmnopqrstuvwxyz", "01234567890", "qwertyuiop", "asdfghjkl", "zxcvbnm"];

/// Why a password is refused.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Error)]
pub enum Weak {
    /// Too few characters.
    #[error("A password has at least {LEAST} characters. A short sentence is easy to keep.")]
    Short,
    /// Too many.
    #[error("A password has at most {MOST} characters.")]
    Long,
    /// A few characters again and again, or a run of keys.
    #[error("This repeats or counts up. Take words that only you put together.")]
    Pattern,
    /// A word of everybody's list with figures around it.
    #[error("This stands in every list of common passwords. Take words that only you put together.")]
    Common,
    /// The name of the hall or the person.
    #[error("This is made of your name, e-mail or hall. Take words that only you put together.")]
    Known,
}

/// Checks a password. `known`: what anybody knows of the person: name, e-mail, hall.
///
/// # Errors
/// The first reason that speaks against it.
///
/// ```
/// use lantern_core::people::{Weak, check};
/// assert!(check("four oars and a kettle", &["Ines", "Ropewalk Hall"]).is_ok());
/// assert_eq!(check("Password1234!", &[]), Err(Weak::Common));
/// assert_eq!(check("ropewalkhall2026", &["Ropewalk Hall"]), Err(Weak::Known));
/// ```
pub fn check(password: &str, known: &[&str]) -> Result<(), Weak> {
    let length = password.chars().count();
    if length < LEAST {
        return Err(Weak::Short);
    }
    if length > MOST {
        return Err(Weak::Long);
    }
    let low: String = password.to_lowercase();
    let letters: String = low.chars().filter(|c| c.is_alphabetic()).collect();
    if repeats(&low) || mostly_runs(&low) {
        return Err(Weak::Pattern);
    }
    let only = |words: &mut dyn Iterator<Item = String>| {
        let mut left = letters.clone();
        for w in words.filter(|w| w.len() >= 3) {
            left = left.replace(&w, "");
        }
        // what is left beside them is no secret
        left.chars().count() < 3
    };
    if only(&mut COMMON.iter().map(|w| (*w).to_owned())) {
        return Err(Weak::Common);
    }
    let known = known.join(" ").to_lowercase();
    if only(&mut known.split(|c: char| !c.is_alphabetic()).map(str::to_owned)) {
        return Err(Weak::Known);
    }
    Ok(())
}

/// At most four characters, over and over.
fn repeats(low: &str) -> bool {
    let all: Vec<char> = low.chars().collect();
    (1..=4).any(|n| all.iter().zip(all.iter().skip(n)).all(|(a, b)| a == b))
}

/// Three quarters of the neighbours are neighbours on the keys too, upwards or downwards.
fn mostly_runs(low: &str) -> bool {
    let all: Vec<char> = low.chars().collect();
    let next = |a: char, b: char| {
        RUNS.iter().any(|run| {
            let at = |c: char| run.chars().position(|x| x == c);
            matches!((at(a), at(b)), (Some(x), Some(y)) if x.abs_diff(y) <= 1)
        })
    };
    let pairs = all.len().saturating_sub(1);
    let near = all.iter().zip(all.iter().skip(1)).filter(|(a, b)| next(**a, **b)).count();
    near * 4 >= pairs * 3
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn each_reason_has_its_password() {
        for (password, why) in [
            ("kettle oars", Weak::Short),
            ("abcabcabcabcabc", Weak::Pattern),
            ("aaaaaaaaaaaaa", Weak::Pattern),
            ("123456789012", Weak::Pattern),
            ("qwertyuiopas", Weak::Pattern),
            ("fedcba987654", Weak::Pattern),
            ("Welcome-2026!!", Weak::Common),
            ("secretpassword", Weak::Common),
            ("Ines.Varga.1990", Weak::Known),
        ] {
            assert_eq!(check(password, &["Ines Varga", "ines@quay.example"]), Err(why), "{password}");
        }
        assert_eq!(check(&"a tide ".repeat(40), &[]), Err(Weak::Long));
    }

    #[test]
    fn words_of_ones_own_are_taken_in_any_script() {
        for password in
            ["four oars and a kettle", "mein Boot liegt still", "кораблик у пристани", "x9!kd02mvq7e"]
        {
            assert_eq!(check(password, &["Ines Varga", "Quay Hall"]), Ok(()), "{password}");
        }
        // a known word among others is no harm
        assert_eq!(check("ines rows at first light", &["Ines"]), Ok(()));
    }
}
