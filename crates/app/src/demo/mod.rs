//! Ropewalk Hall in Port Ellery: an invented hall with invented members. Dates are relative to the day it is loaded; past
//! results come from simulated members whose true abilities nobody is told, so that the track record has something
//! honest to show.

mod lifting;
mod results;
mod weeks;
mod world;

use chrono::{Datelike, Duration, NaiveDate, NaiveDateTime};
use lantern_core::kit::Kit;
use lantern_core::pacing::Level;
use lantern_core::plan::Class;
use lantern_core::roster::{Member, read_csv};
use lantern_core::sheet::read;
use lantern_store::account::{Role, add as add_account};
use lantern_store::class::{NewClass, add as add_class};
use lantern_store::{AccountId, GymId, MemberId, PlainConnection as Conn, gym, kit, roster, sheet};

/// Sign-in of the demo's owner.
pub const EMAIL: &str = "ines@ropewalk.example";
/// Its password; a demo on loopback hides nothing.
pub const PASSWORD: &str = "lantern-demo";
/// A second account, a coach.
const COACH: &str = "Coach Ines V.";
const COACH_EMAIL: &str = "bram@ropewalk.example";

/// Members in this evening's class.
const EVENING: usize = 14;

const MEMBERS: &str = include_str!("../../../../demo/members.csv");
const KIT: &str = include_str!("../../../../demo/kit.toml");

/// This week's sessions: the first is today's, the others go around.
const WEEK: [&str; 6] = [
    include_str!("../../../../demo/sheets/01-breakwater.sheet.txt"),
    include_str!("../../../../demo/sheets/02-slack-tide.sheet.txt"),
    include_str!("../../../../demo/sheets/03-long-quay.sheet.txt"),
    include_str!("../../../../demo/sheets/04-low-bell.sheet.txt"),
    include_str!("../../../../demo/sheets/05-harbour-stairs.sheet.txt"),
    include_str!("../../../../demo/sheets/06-net-loft.sheet.txt"),
];

/// A second class on each day of the week, so that every clock of the sheet language is there: hour, minute, sheet.
const ALSO: [(u32, u32, &str); 9] = [
    (12, 15, include_str!("../../../../demo/sheets/31-signal-mast.sheet.txt")),
    (12, 15, include_str!("../../../../demo/sheets/32-tide-table.sheet.txt")),
    (12, 15, include_str!("../../../../demo/sheets/33-rising-water.sheet.txt")),
    (12, 15, include_str!("../../../../demo/sheets/34-gangway.sheet.txt")),
    (12, 15, include_str!("../../../../demo/sheets/35-market-stalls.sheet.txt")),
    (12, 15, include_str!("../../../../demo/sheets/36-two-boats.sheet.txt")),
    (7, 0, include_str!("../../../../demo/sheets/37-three-locks.sheet.txt")),
    (7, 0, include_str!("../../../../demo/sheets/38-bell-buoy.sheet.txt")),
    (7, 0, include_str!("../../../../demo/sheets/39-knot-board.sheet.txt")),
];
/// Members in a second class.
const ALSO_MEMBERS: usize = 9;

/// The sessions of the two weeks before.
const PAST: [&str; 10] = [
    include_str!("../../../../demo/sheets/11-ferry-line.sheet.txt"),
    include_str!("../../../../demo/sheets/12-salt-road.sheet.txt"),
    include_str!("../../../../demo/sheets/13-gull-rock.sheet.txt"),
    include_str!("../../../../demo/sheets/14-lee-shore.sheet.txt"),
    include_str!("../../../../demo/sheets/15-tar-barrel.sheet.txt"),
    include_str!("../../../../demo/sheets/16-anchor-watch.sheet.txt"),
    include_str!("../../../../demo/sheets/17-grey-mole.sheet.txt"),
    include_str!("../../../../demo/sheets/18-quiet-water.sheet.txt"),
    include_str!("../../../../demo/sheets/19-rope-yard.sheet.txt"),
    include_str!("../../../../demo/sheets/20-north-pier.sheet.txt"),
];

/// Days of the demo's roster that say `@-30d` are dates before today.
fn dated(csv: &str, today: NaiveDate) -> String {
    let mut out = String::new();
    let mut rest = csv;
    while let Some(at) = rest.find("@-") {
        let (before, after) = rest.split_at(at);
        let digits: String = after.chars().skip(2).take_while(char::is_ascii_digit).collect();
        let days = digits.parse::<i64>().unwrap_or(0);
        out.push_str(before);
        out.push_str(&format!("@{}", today - Duration::days(days)));
        rest = after.get(3 + digits.len()..).unwrap_or_default();
    }
    out.push_str(rest);
    out
}

/// The demo's members as of a day.
pub fn members(today: NaiveDate) -> Vec<Member> {
    read_csv(&dated(MEMBERS, today)).members
}

/// Today's sheet.
pub fn todays_sheet() -> &'static str {
    WEEK[0]
}

/// The sheets of the demo's week, the evenings first.
pub fn weeks_sheets() -> Vec<&'static str> {
    WEEK.iter().copied().chain(ALSO.iter().map(|(.., text)| *text)).collect()
}

/// Everybody of the demo's hall in one class.
pub fn everybody(today: NaiveDate) -> Class {
    Class { members: members(today), ..todays_class(today) }
}

/// Positions in the roster of those who are booked this evening.
fn this_evening(members: usize) -> Vec<usize> {
    coming(members, 3).take(EVENING).collect()
}

/// This evening's class as it would be planned on a day, without the log.
pub fn todays_class(today: NaiveDate) -> Class {
    let all = members(today);
    let booked = this_evening(all.len()).into_iter().filter_map(|i| all.get(i)).cloned().collect();
    let kit = Kit::from_toml(KIT).unwrap_or_default();
    Class { members: booked, kit, date: today, length_s: None, recent_drills: Vec::new(), cycles: Vec::new() }
}

/// Sessions held before this log began, by how long somebody has been here.
fn sessions_before(level: Level, i: usize) -> u32 {
    let spread = u32::try_from(i % 5).unwrap_or(0);
    match level {
        Level::New => 2 + spread,
        _ => 30 + 9 * spread,
    }
}

struct Hall {
    gym: GymId,
    coaches: [AccountId; 2],
    members: Vec<MemberId>,
}

/// Loads the demo; false when it is there already.
///
/// # Errors
/// Says what the store refused.
pub fn load(conn: &mut Conn, now: NaiveDateTime) -> Result<bool, String> {
    if gym::find_demo(conn).map_err(|e| e.to_string())?.is_some() {
        return Ok(false);
    }
    lantern_store::in_one_step(conn, |conn| fill(conn, now)).map_err(|e| e.to_string())?;
    Ok(true)
}

fn fill(conn: &mut Conn, now: NaiveDateTime) -> lantern_store::Result<()> {
    let today = now.date();
    let id = gym::add(conn, "Ropewalk Hall", "Port Ellery", true)?;
    let owner = add_account(conn, id, EMAIL, COACH, Role::Owner, PASSWORD)?;
    let coach = add_account(conn, id, COACH_EMAIL, "Coach Bram T.", Role::Coach, PASSWORD)?;
    let k = Kit::from_toml(KIT).map_err(lantern_store::StoreError::Failed)?;
    kit::change(conn, id, &k)?;
    let mut hall = Hall { gym: id, coaches: [owner, coach], members: Vec::new() };
    for (i, m) in members(today).iter().enumerate() {
        hall.members.push(roster::add(conn, id, m, sessions_before(m.level, i))?);
    }
    let monday = today - Duration::days(i64::from(today.weekday().num_days_from_monday()));
    lifting::add_cycles(conn, id, monday)?;
    for (i, text) in PAST.iter().enumerate() {
        let i = i as i64;
        let date = monday - Duration::days(14) + Duration::days(i / 5 * 7 + i % 5);
        held(conn, &hall, at(date, 18, 0), text, i as usize)?;
    }
    also(conn, &hall, monday, today)?;
    week(conn, &hall, monday, today)?;
    weeks::timetable(conn, &hall, monday)?;
    weeks::says(conn, &hall, today)
}

/// The second classes of the week: noon from Monday to Saturday, early on its first three days.
fn also(conn: &mut Conn, hall: &Hall, monday: NaiveDate, today: NaiveDate) -> lantern_store::Result<()> {
    for (i, (hour, minute, text)) in ALSO.iter().enumerate() {
        let date = monday + Duration::days((i % 6) as i64);
        let starts_at = at(date, *hour, *minute);
        if date < today {
            held(conn, hall, starts_at, text, i)?;
            continue;
        }
        let session = sheet::add(conn, hall.gym, date, text)?;
        let coach = hall.coaches.get(i % 2).copied();
        let booked = booked(hall, i).into_iter().take(ALSO_MEMBERS).collect();
        add_class(
            conn,
            hall.gym,
            &NewClass { session, starts_at, length_s: None, places: Some(weeks::PLACES), coach, booked },
        )?;
    }
    Ok(())
}

/// Who comes on a day: two of three members, by a rule that anybody can check.
fn coming(members: usize, day: usize) -> impl Iterator<Item = usize> {
    (0..members).filter(move |i| !(i + day).is_multiple_of(3))
}

fn booked(hall: &Hall, day: usize) -> Vec<MemberId> {
    coming(hall.members.len(), day).filter_map(|i| hall.members.get(i)).copied().collect()
}

fn at(date: NaiveDate, hour: u32, minute: u32) -> NaiveDateTime {
    date.and_hms_opt(hour, minute, 0).unwrap_or_default()
}

fn held(
    conn: &mut Conn,
    hall: &Hall,
    starts_at: NaiveDateTime,
    text: &str,
    day: usize,
) -> lantern_store::Result<()> {
    let date = starts_at.date();
    let session = sheet::add(conn, hall.gym, date, text)?;
    let coach = hall.coaches.get(day % 2).copied();
    let new = NewClass {
        session,
        starts_at,
        length_s: None,
        places: Some(weeks::PLACES),
        coach,
        booked: booked(hall, day),
    };
    let class = add_class(conn, hall.gym, &new)?;
    results::log_all(conn, hall.gym, class, date, (&read(text).sheet, text), new.starts_at)
}

fn week(conn: &mut Conn, hall: &Hall, monday: NaiveDate, today: NaiveDate) -> lantern_store::Result<()> {
    let here = today.weekday().num_days_from_monday() as usize;
    for day in 0..7 {
        let date = monday + Duration::days(day as i64);
        // nobody trains on Sunday, unless today is one
        if day == 6 && here != 6 {
            continue;
        }
        let Some(text) = WEEK.get((day + WEEK.len() - here % WEEK.len()) % WEEK.len()) else { continue };
        if day < here {
            held(conn, hall, at(date, 18, 0), text, day)?;
            continue;
        }
        let session = sheet::add(conn, hall.gym, date, text)?;
        let coach = hall.coaches.get(day % 2).copied();
        let evening =
            this_evening(hall.members.len()).into_iter().filter_map(|i| hall.members.get(i)).copied();
        let booked = if day == here { evening.collect() } else { booked(hall, day) };
        add_class(
            conn,
            hall.gym,
            &NewClass {
                session,
                starts_at: at(date, 18, 0),
                length_s: None,
                places: Some(weeks::PLACES),
                coach,
                booked,
            },
        )?;
        if day == here {
            let few = hall.members.iter().rev().step_by(4).copied().collect();
            let coach = hall.coaches.last().copied();
            add_class(
                conn,
                hall.gym,
                &NewClass {
                    session,
                    starts_at: at(date, 6, 30),
                    length_s: None,
                    places: None,
                    coach,
                    booked: few,
                },
            )?;
        }
    }
    Ok(())
}

#[cfg(test)]
mod tests {
    use super::*;
    use lantern_core::plan::{Options, plan, text};

    #[test]
    fn the_whole_plan_of_this_evening_is_as_it_was_looked_at() {
        let class = todays_class(NaiveDate::from_ymd_opt(2026, 11, 24).unwrap());
        let sheet = read(todays_sheet()).sheet;
        let made = plan(&sheet, &class, &Default::default(), &[], Options::default());
        insta::assert_snapshot!("this_evening", text(&made));
    }

    #[test]
    fn every_sheet_and_member_of_the_demo_is_read_without_a_problem() {
        for text in WEEK.iter().chain(&PAST).chain(ALSO.iter().map(|(.., text)| text)) {
            let r = read(text);
            assert_eq!(r.problems, vec![], "{text}");
        }
        let today = NaiveDate::from_ymd_opt(2026, 11, 24).unwrap();
        let roster = read_csv(&dated(MEMBERS, today));
        assert_eq!(roster.problems, vec![]);
        assert_eq!(roster.members.len(), 24);
        assert_eq!(roster.members[0].maxes[0].date, Some(today - Duration::days(41)));
        assert!(Kit::from_toml(KIT).is_ok());
    }
}
