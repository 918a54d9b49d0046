//! People who sign in: what their name, their e-mail and their password must be.

mod deed;
mod password;
mod role;
mod second;

pub use deed::Deed;
pub use password::{LEAST, MOST, Weak, check};
pub use role::{Act, Role};
pub use second::{RECOVERY_CODES, SECRET_BYTES, address, recovery_form, spelt, step_of_code};

/// Longest name of a person, a hall or a place, characters.
pub const MOST_NAME: usize = 80;
/// Longest e-mail address, bytes (RFC 5321: 256 with its brackets).
pub const MOST_EMAIL: usize = 254;

/// A name as it is kept; `None` for nothing and for what is too long.
///
/// ```
/// use lantern_core::people::name;
/// assert_eq!(name(" Ines V. "), Some("Ines V.".to_owned()));
/// assert_eq!((name("  "), name(&"a".repeat(81))), (None, None));
/// ```
pub fn name(text: &str) -> Option<String> {
    let text = text.trim();
    (!text.is_empty() && text.chars().count() <= MOST_NAME).then(|| text.to_owned())
}

/// An e-mail address as it is kept; `None` for what can be none.
pub fn email(text: &str) -> Option<String> {
    let text = text.trim().to_lowercase();
    let (name, host) = text.rsplit_once('@')?;
    let whole = !name.is_empty() && host.contains('.') && !host.starts_with('.') && !host.ends_with('.');
    let plain = text.chars().all(|c| !c.is_whitespace() && !c.is_control());
    (whole && plain && text.len() <= MOST_EMAIL).then_some(text)
}

#[cfg(test)]
mod tests {
    use super::email;

    #[test]
    fn an_address_has_a_name_and_a_host() {
        assert_eq!(email(" Ines@Hall.Example "), Some("ines@hall.example".to_owned()));
        let long = format!("{}@h.example", "a".repeat(250));
        for bad in
            ["", "ines", "@hall.example", "ines@hall", "ines@.example", "a b@hall.example", "i@hall.", &long]
        {
            assert_eq!(email(bad), None, "{bad}");
        }
    }
}
