//! Days and zones as people send them: within what calendars can be reckoned with.

use chrono::{DateTime, Datelike, NaiveDate, NaiveDateTime, Utc, Weekday};
use chrono_tz::{TZ_VARIANTS, Tz};
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

/// Days of the week by name.
pub const DAYS: [(&str, Weekday); 7] = [
    ("Monday", Weekday::Mon),
    ("Tuesday", Weekday::Tue),
    ("Wednesday", Weekday::Wed),
    ("Thursday", Weekday::Thu),
    ("Friday", Weekday::Fri),
    ("Saturday", Weekday::Sat),
    ("Sunday", Weekday::Sun),
];

/// Days on which weeks begin somewhere.
pub const WEEK_FROM: [(&str, Weekday); 3] = [DAYS[0], DAYS[5], DAYS[6]];

/// A day of the week by name.
pub fn read_weekday(text: &str) -> Option<Weekday> {
    DAYS.iter().find(|(word, _)| *word == text).map(|(_, d)| *d)
}

/// Its name.
pub fn day_word(day: Weekday) -> &'static str {
    DAYS.iter().find(|(_, d)| *d == day).map_or("", |(word, _)| word)
}

/// Reads the day on which weeks begin.
pub fn read_week_from(text: &str) -> Result<Weekday, String> {
    let found = read_weekday(text).filter(|d| WEEK_FROM.iter().any(|(_, w)| w == d));
    found.ok_or_else(|| "Choose the day on which your weeks begin.".to_owned())
}

/// What a clock in a zone shows at a moment.
pub fn on_clock(at: &DateTime<Utc>, zone: Tz) -> NaiveDateTime {
    at.with_timezone(&zone).naive_local()
}

/// Every zone by its name.
pub fn zones() -> impl Iterator<Item = &'static str> {
    TZ_VARIANTS.iter().map(|z| z.name())
}

/// Reads a zone, however its letters and gaps are written; what is wrong in words.
pub fn read_zone(text: &str) -> Result<Tz, String> {
    let plain = |t: &str| t.trim().replace(' ', "_").to_lowercase();
    let asked = plain(text);
    let found = TZ_VARIANTS.iter().find(|z| plain(z.name()) == asked);
    // a town alone is enough where only one has its name
    let town = || {
        let mut all =
            TZ_VARIANTS.iter().filter(|z| plain(z.name()).rsplit('/').next() == Some(asked.as_str()));
        all.next().filter(|_| all.next().is_none())
    };
    found.or_else(town).copied().ok_or_else(|| {
        "I do not know this time zone. Write continent and town, say Europe/Dublin or America/Chicago."
            .to_owned()
    })
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
    fn a_halls_clock_goes_through_its_own_nights() {
        let at = |z: Tz, text: &str| on_clock(&text.parse().unwrap(), z).format("%a %H:%M").to_string();
        // the hour that comes twice, and the one that never comes
        assert_eq!(at(Tz::Europe__Dublin, "2026-10-25T00:30:00Z"), "Sun 01:30");
        assert_eq!(at(Tz::Europe__Dublin, "2026-10-25T01:30:00Z"), "Sun 01:30");
        assert_eq!(at(Tz::America__Chicago, "2026-03-08T07:59:00Z"), "Sun 01:59");
        assert_eq!(at(Tz::America__Chicago, "2026-03-08T08:00:00Z"), "Sun 03:00");
        assert_eq!(at(Tz::Pacific__Auckland, "2026-11-30T11:00:00Z"), "Tue 00:00");
    }

    #[test]
    fn zones_are_read_as_people_write_them() {
        let name = |t: &str| read_zone(t).map(|z| z.name());
        assert_eq!(name("Europe/Dublin"), Ok("Europe/Dublin"));
        assert_eq!(name(" america/new york "), Ok("America/New_York"));
        assert_eq!(name("Chicago"), Ok("America/Chicago"));
        assert!(name("Port Ellery").unwrap_err().contains("Europe/Dublin") && name("").is_err());
        // two towns of one name are asked about
        assert!(name("Louisville").is_ok() == (zones().filter(|z| z.ends_with("/Louisville")).count() == 1));
    }

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
