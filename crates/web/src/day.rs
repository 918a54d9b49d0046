//! Days as people send them: within what calendars can be reckoned with.

use chrono::{Datelike, NaiveDate};
use serde::{Deserialize, Deserializer};

/// First and last year of a day that is taken (own): nothing was planned before, nobody plans after.
const YEARS: std::ops::RangeInclusive<i32> = 1950..=2150;

/// Reads a day; what is wrong in words. `what` begins the sentence: `The day`.
pub fn read_day(text: &str, what: &str) -> Result<NaiveDate, String> {
    let day: NaiveDate =
        text.trim().parse().map_err(|_| format!("{what} is no date. Write, say, 2026-11-23."))?;
    if YEARS.contains(&day.year()) {
        Ok(day)
    } else {
        Err(format!("{what} lies outside {} to {}. Check the year.", YEARS.start(), YEARS.end()))
    }
}

/// A day in an address; one that is none, or out of range, is as if none was asked for.
pub fn asked<'de, D: Deserializer<'de>>(from: D) -> Result<Option<NaiveDate>, D::Error> {
    let text = Option::<String>::deserialize(from)?;
    Ok(text.and_then(|t| read_day(&t, "The day").ok()))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn days_are_read_in_range_and_refused_in_words() {
        assert_eq!(read_day(" 2026-11-23 ", "The day").unwrap().to_string(), "2026-11-23");
        assert_eq!(
            read_day("soon", "The start").unwrap_err(),
            "The start is no date. Write, say, 2026-11-23."
        );
        for far in ["+262142-12-31", "-0001-01-01", "0001-01-01", "9999-12-31"] {
            assert!(read_day(far, "The day").is_err(), "{far}");
        }
        assert!(read_day("1950-01-01", "The day").is_ok() && read_day("2150-12-31", "The day").is_ok());
    }
}
