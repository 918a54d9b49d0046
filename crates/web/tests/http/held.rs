//! What is logged, decided and typed stays: through edits of the sheet, corrections, two coaches at once, members who leave.

use super::harness::{Answer, Browse, Hall, Server, encode};
use lantern_store::testing::set_sheet;
use lantern_store::{booking, class, logbook, roster, sheet};

const LIFT: &str = "# strength\nfront squat 5 x 3 @ 70%\n\n";
const QUAY: &str = "# workout \"Quay\" cap 12:00 target 7:00-10:00\n3 rounds for time\n10 burpees\n200 m run";

pub fn at(h: &Hall, step: &str) -> String {
    format!("/classes/{}/{step}", h.class)
}

fn version(b: &mut Browse, h: &Hall) -> String {
    let page = b.get(&at(h, "sheet")).body;
    let after = page.split("name=\"version\" value=\"").nth(1).unwrap_or_default();
    after.split('"').next().unwrap_or_default().to_owned()
}

/// As the editor saves: with the version that it shows.
fn save(b: &mut Browse, h: &Hall, text: &str) -> Answer {
    let version = version(b, h);
    b.post(&at(h, "sheet"), &[("sheet", text), ("version", &version)])
}

pub fn log(b: &mut Browse, h: &Hall, fields: &[(&str, &str)]) -> Answer {
    let member = h.member.to_string();
    let mut all = vec![("block", "0"), ("member", member.as_str()), ("tier", "F")];
    all.extend(fields);
    b.post(&at(h, "log"), &all)
}

/// A form with lines of a head of their own.
fn headed(b: &mut Browse, path: &str, head: &str, fields: &[(&str, &str)]) -> Answer {
    let csrf = b.csrf.clone();
    let mut all = vec![("csrf", csrf.as_str())];
    all.extend(fields);
    let body: Vec<String> = all.iter().map(|(k, v)| format!("{}={}", encode(k), encode(v))).collect();
    let body = body.join("&");
    b.send(&format!(
        "POST {path} HTTP/1.1\r\nHost: h\r\n{head}Cookie: {}\r\nContent-Type: application/x-www-form-urlencoded\r\nContent-Length: {}\r\nConnection: close\r\n\r\n{body}",
        b.cookie,
        body.len()
    ))
}

/// A form as the page's own script sends it.
pub fn scripted(b: &mut Browse, path: &str, fields: &[(&str, &str)]) -> Answer {
    headed(b, path, "HX-Request: true\r\n", fields)
}

/// The rows of a block's table on the log page.
fn table<'p>(page: &'p str, heading: &str) -> &'p str {
    let from = page.split(&format!("{heading} <small")).nth(1).unwrap_or_default();
    from.split("</table>").next().unwrap_or_default()
}

#[test]
fn a_block_in_front_of_a_logged_workout_takes_nothing_from_it() {
    let s = Server::start();
    let h = s.hall("Front", 2);
    let mut b = s.signed_in(&h);
    assert_eq!(log(&mut b, &h, &[("result", "9:41")]).status, 303);
    assert_eq!(save(&mut b, &h, &format!("{LIFT}{QUAY}")).status, 303);
    // held: the class stays as it was planned, and says so
    let page = b.get(&at(&h, "log")).body;
    assert!(page.contains("Held: results are logged") && !page.contains("Front squat"), "{page}");
    assert!(table(&page, "Quay").contains("value=\"9:41\""));
    // planned anew, the result is still the workout's
    assert_eq!(b.post(&at(&h, "log/anew"), &[]).status, 303);
    let page = b.get(&at(&h, "log")).body;
    assert!(!page.contains("Held: results") && !table(&page, "Front squat").contains("9:41"), "{page}");
    assert!(table(&page, "Quay").contains("value=\"9:41\""), "{page}");
    assert!(b.get(&at(&h, "loads")).body.contains("Front squat"));
}

#[test]
fn a_decision_goes_with_its_block() {
    let s = Server::start();
    let h = s.hall("Goes", 1);
    let mut b = s.signed_in(&h);
    let member = h.member.to_string();
    let stands = |page: &str| {
        let pick = page.split("class=\"hl-pick\"").nth(1).unwrap_or_default();
        let pick = pick.split("</form>").next().unwrap_or_default();
        let on = pick.split("<button").find(|b| b.contains("is-on")).unwrap_or_default();
        on.split("value=\"").nth(1).and_then(|v| v.chars().next())
    };
    b.post(&at(&h, "version"), &[("block", "0"), ("member", &member), ("tier", "B")]);
    assert_eq!(stands(&b.get(&at(&h, "versions")).body), Some('B'));
    assert_eq!(save(&mut b, &h, &format!("{LIFT}{QUAY}")).status, 303);
    let mut conn = s.database.conn();
    let (kept, lost) = lantern_store::decision::list(&mut conn, h.gym, h.class).unwrap();
    assert_eq!((kept.len(), lost, kept[0].block()), (1, 0, Some(0)), "it speaks of the block's id");
    let moved = b.get(&at(&h, "versions")).body;
    assert_eq!(stands(&moved), Some('B'), "the same choice on the same workout, one further down");
    // and what it is decided for now lies one further down
    b.post(&at(&h, "version"), &[("block", "1"), ("member", &member), ("tier", "F")]);
    let (kept, _) = lantern_store::decision::list(&mut conn, h.gym, h.class).unwrap();
    assert_eq!(kept.last().and_then(lantern_core::plan::Decision::block), Some(0));
}

#[test]
fn a_result_whose_block_is_gone_is_shown_and_given_to_another() {
    let s = Server::start();
    let h = s.hall("Gone", 1);
    let mut b = s.signed_in(&h);
    log(&mut b, &h, &[("result", "9:41")]);
    save(&mut b, &h, "# workout \"Mole\" cap 12:00\n21-15-9 for time\nthrusters 40/30 kg\npull-ups");
    b.post(&at(&h, "log/anew"), &[]);
    let page = b.get(&at(&h, "log")).body;
    assert!(page.contains("1 results are of Quay, which is not on the sheet any more"), "{page}");
    assert!(!table(&page, "Mole").contains("9:41"));
    assert_eq!(b.post(&at(&h, "log/belong"), &[("from", "0"), ("to", "9")]).status, 404);
    assert_eq!(b.post(&at(&h, "log/belong"), &[("from", "0"), ("to", "1")]).status, 303);
    let page = b.get(&at(&h, "log")).body;
    assert!(table(&page, "Mole").contains("value=\"9:41\"") && !page.contains("not on the sheet any more"));
}

#[test]
fn a_held_class_stays_as_it_was_whatever_changes() {
    let s = Server::start();
    let h = s.hall("Stays", 2);
    let mut b = s.signed_in(&h);
    let versions = b.get(&at(&h, "versions")).body;
    let figures = |p: &str| p.split("<tbody").skip(1).collect::<String>().matches(":").count();
    log(&mut b, &h, &[("result", "9:00")]);
    let mut conn = s.database.conn();
    roster::change(&mut conn, h.gym, h.member, |m| lantern_core::roster::Member {
        body_mass_kg: Some(120.0),
        level: lantern_core::pacing::Level::New,
        ..m.clone()
    })
    .unwrap();
    let mut kit = lantern_core::kit::Kit::usual();
    kit.counts.clear();
    lantern_store::kit::change(&mut conn, h.gym, &kit).unwrap();
    let held = b.get(&at(&h, "versions")).body;
    assert_eq!(figures(&held), figures(&versions));
    assert!(!held.contains(">new<"));
    // nothing is decided for it any more, and that is said
    let member = h.member.to_string();
    let no = b.post(&at(&h, "version"), &[("block", "0"), ("member", &member), ("tier", "B")]);
    assert_eq!(no.status, 409);
    assert!(no.body.contains("stays as it was held"), "{}", no.body);
    // a member who leaves stays in it, and in the record
    assert_eq!(b.post(&format!("/members/{member}/leave"), &[]).status, 303);
    assert!(b.get(&at(&h, "log")).body.contains("Stays Member 0"));
    let members = b.get("/members").body;
    assert!(members.contains("Erase for good") && members.contains("24 November 2026"), "{members}");
    assert!(b.get("/record").body.contains("1 of 1") || b.get("/record").body.contains("0 of 1"));
    let wrong = b.post(&format!("/members/{member}/erase"), &[("name", "somebody")]);
    assert_eq!(wrong.status, 422);
    assert_eq!(b.post(&format!("/members/{member}/erase"), &[("name", "Stays Member 0")]).status, 303);
    let page = b.get(&at(&h, "log")).body;
    assert!(page.contains("Erased member") && !page.contains("Stays Member 0"));
}

#[test]
fn a_line_changes_the_result_only_and_can_be_undone() {
    let s = Server::start();
    let h = s.hall("Maren", 1);
    let mut b = s.signed_in(&h);
    let full = [("result", "8:42"), ("tier", "T"), ("load", "42.5"), ("note", "strong")];
    let member = h.member.to_string();
    let mut all = vec![("block", "0"), ("member", member.as_str())];
    all.extend(full);
    assert_eq!(b.post(&at(&h, "log"), &all).status, 303);
    let said = scripted(&mut b, &at(&h, "log/line"), &[("line", "maren 915")]);
    assert_eq!(said.status, 200, "{}", said.body);
    assert!(said.body.contains("Maren Member 0 9:15") && said.body.contains("8:42 before"), "{}", said.body);
    let mut conn = s.database.conn();
    let row = || logbook::one(&mut s.database.conn(), h.gym, h.class, (h.member, 0)).unwrap().unwrap();
    let kept = row();
    assert_eq!((kept.tier.letter(), kept.load_kg, kept.note.as_str()), ("T", Some(42.5), "strong"));
    assert_eq!(kept.outcome.text(), "9:15");
    let change = logbook::changes(&mut conn, h.gym, h.class).unwrap().last().unwrap().id.to_string();
    let undone = scripted(&mut b, &at(&h, "log/undo"), &[("change", &change)]);
    assert!(undone.status == 200 && undone.body.contains("8:42"), "{}", undone.body);
    assert_eq!(row().outcome.text(), "8:42");
    // what was changed since is not undone behind somebody's back
    let again = scripted(&mut b, &at(&h, "log/undo"), &[("change", &change)]);
    assert_eq!(again.status, 409);
}

#[test]
fn a_script_gets_its_row_and_the_tally_and_nothing_else() {
    let s = Server::start();
    let h = s.hall("Row", 3);
    let mut b = s.signed_in(&h);
    let member = h.member.to_string();
    let fields = [("block", "0"), ("member", member.as_str()), ("tier", "F"), ("result", "9:10")];
    let part = scripted(&mut b, &at(&h, "log"), &fields);
    assert_eq!(part.status, 200);
    assert_eq!(part.body.matches("data-row").count(), 1, "{}", part.body);
    assert!(part.body.contains("id=\"tally\" hx-swap-oob") && part.body.contains("1 of 3 logged"));
    assert!(part.body.contains("Undo") && part.body.contains("Held: results are logged"));
    let wrong = scripted(&mut b, &at(&h, "log"), &[fields[0], fields[1], fields[2], ("result", "soon")]);
    assert_eq!(wrong.status, 422);
    assert!(wrong.body.contains("role=\"alert\"") && wrong.body.contains("value=\"soon\""), "{}", wrong.body);
    // taken back with its trail; the class is planned again
    let back = scripted(&mut b, &at(&h, "log/back"), &fields[..2]);
    assert!(back.body.contains("9:10 is taken back") && back.body.contains("0 of 3 logged"), "{}", back.body);
    assert!(back.body.contains("9:10 taken back") && !back.body.contains("Held: results"), "{}", back.body);
}

#[test]
fn two_workouts_have_a_tally_each() {
    let s = Server::start();
    let h = s.hall("Two", 1);
    let mut b = s.signed_in(&h);
    save(&mut b, &h, &format!("{QUAY}\n\n# workout \"Mole\"\namrap 8:00\n10 air squats\n10 sit-ups"));
    log(&mut b, &h, &[("result", "9:00")]);
    let page = b.get(&at(&h, "log")).body;
    assert!(page.contains("Quay: 1 of 1 logged") && page.contains("Mole: 0 of 1 logged"), "{page}");
    // the one line is for the workout that is chosen
    let done = scripted(&mut b, &at(&h, "log/line"), &[("line", "two 5+3"), ("block", "1")]);
    assert!(done.status == 200 && done.body.contains("Mole: 1 of 1 logged"), "{}", done.body);
    assert!(done.body.contains("<option value=\"1\" selected>"), "it stays chosen: {}", done.body);
}

#[test]
fn the_later_of_two_saves_shows_both_texts() {
    let s = Server::start();
    let h = s.hall("Both", 1);
    let (mut b, mut c) = (s.signed_in(&h), s.signed_in(&h));
    let seen = version(&mut b, &h);
    assert_eq!(save(&mut c, &h, &format!("{QUAY}\n12 air squats")).status, 303);
    let late = b.post(&at(&h, "sheet"), &[("sheet", &format!("{QUAY}\n15 sit-ups")), ("version", &seen)]);
    assert_eq!(late.status, 409);
    assert!(late.body.contains("Nothing is overwritten"), "{}", late.body);
    assert!(late.body.contains("<td>15 sit-ups</td><td>12 air squats</td>"), "{}", late.body);
    let mut conn = s.database.conn();
    let session = class::find(&mut conn, h.gym, h.class).unwrap().session;
    assert!(sheet::find(&mut conn, h.gym, session).unwrap().sheet.contains("12 air squats"));
    // knowing theirs, the coach puts theirs in its place
    let now = sheet::find(&mut conn, h.gym, session).unwrap().version.to_string();
    assert!(late.body.contains(&format!("name=\"version\" value=\"{now}\"")));
    assert_eq!(b.post(&at(&h, "sheet"), &[("sheet", QUAY), ("version", &now)]).status, 303);
}

#[test]
fn a_draft_is_discarded_and_a_shared_sheet_says_so() {
    let s = Server::start();
    let h = s.hall("Draft", 1);
    let mut b = s.signed_in(&h);
    b.post(&at(&h, "sheet/check"), &[("sheet", "half a thought")]);
    assert!(b.get(&at(&h, "sheet")).body.contains("Discard the draft"));
    assert_eq!(b.post(&at(&h, "sheet/discard"), &[]).status, 303);
    let page = b.get(&at(&h, "sheet")).body;
    assert!(!page.contains("half a thought") && !page.contains("classes are planned by this sheet"));
    let mut conn = s.database.conn();
    let session = class::find(&mut conn, h.gym, h.class).unwrap().session;
    let new = class::NewClass {
        session,
        starts_at: super::now() + chrono::Duration::hours(2),
        length_s: None,
        places: None,
        coach: None,
        booked: Vec::new(),
    };
    class::add(&mut conn, h.gym, &new).unwrap();
    assert!(b.get(&at(&h, "sheet")).body.contains("2 classes are planned by this sheet"));
}

#[test]
fn the_member_form_keeps_seventy_lifts_and_the_day_of_a_trial() {
    let s = Server::start();
    let h = s.hall("Many", 1);
    let mut conn = s.database.conn();
    let lifts: Vec<lantern_core::roster::Max> = (0..72)
        .map(|i| lantern_core::roster::Max {
            lift: "back-squat".into(),
            kg: 60.0 + f64::from(i),
            reps: 1,
            reserve: 0,
            date: "2025-01-01"
                .parse::<chrono::NaiveDate>()
                .ok()
                .map(|d| d + chrono::Duration::days(i64::from(i))),
        })
        .collect();
    let trial = lantern_core::roster::Trial {
        test: "row-2000".into(),
        seconds: 478.0,
        date: "2026-03-01".parse().ok(),
    };
    roster::change(&mut conn, h.gym, h.member, |m| lantern_core::roster::Member {
        maxes: lifts.clone(),
        trials: vec![trial.clone()],
        ..m.clone()
    })
    .unwrap();
    let mut b = s.signed_in(&h);
    let before = roster::find(&mut conn, h.gym, h.member).unwrap();
    // the page as it stands, sent back as it is
    let page = b.get(&format!("/members/{}", h.member)).body;
    let fields = fields_of(&page);
    assert!(fields.iter().filter(|(n, _)| n == "kg").count() >= 72);
    let all: Vec<(&str, &str)> = fields.iter().map(|(n, v)| (n.as_str(), v.as_str())).collect();
    let done = b.post_raw(&format!("/members/{}", h.member), &all);
    assert_eq!(done.status, 303, "{}", done.body);
    assert_eq!(roster::find(&mut conn, h.gym, h.member).unwrap(), before);
}

/// Names and values of a page's first long form, as a browser would send it.
fn fields_of(page: &str) -> Vec<(String, String)> {
    let form = page.split("class=\"hl-form").nth(1).unwrap_or_default();
    let form = form.split("</form>").next().unwrap_or_default();
    let attr = |tag: &str, name: &str| {
        let rest = tag.split(&format!(" {name}=\"")).nth(1)?;
        rest.split('"').next().map(|v| v.replace("&#34;", "\"").replace("&#38;", "&").replace("&quot;", "\""))
    };
    let mut out = Vec::new();
    for tag in form.split('<').filter(|t| t.starts_with("input")) {
        let tag = tag.split('>').next().unwrap_or_default();
        let checked = !tag.contains("type=\"checkbox\"") || tag.contains(" checked");
        if let (Some(name), true) = (attr(tag, "name"), checked) {
            out.push((name, attr(tag, "value").unwrap_or_default()));
        }
    }
    for select in form.split("<select").skip(1) {
        let name = attr(select.split('>').next().unwrap_or_default(), "name");
        let chosen =
            select.split("<option").find(|o| o.split('>').next().is_some_and(|t| t.contains("selected")));
        let value = chosen.and_then(|o| o.split('>').nth(1)).and_then(|o| o.split('<').next());
        if let (Some(name), Some(value)) = (name, value) {
            out.push((name, value.to_owned()));
        }
    }
    out
}

#[test]
fn one_unreadable_value_takes_no_page_down() {
    use diesel::prelude::*;
    let s = Server::start();
    let h = s.hall("Broken", 1);
    let mut b = s.signed_in(&h);
    log(&mut b, &h, &[("result", "9:00")]);
    let spoil = |sql: &str| diesel::sql_query(sql).execute(&mut s.database.conn()).unwrap();
    spoil("UPDATE frozen_plans SET body = '{\"a\": 1}', inputs = '[]'");
    for p in ["/classes", "/record", "/members", "/settings", &at(&h, "hour"), &at(&h, "versions")] {
        assert_eq!(b.get(p).status, 200, "{p}");
    }
    let page = b.get(&at(&h, "log")).body;
    assert!(page.contains("cannot be read any more") && page.contains("value=\"9:00\""), "{page}");
    assert!(b.get("/record").body.contains("1 class is not counted here"));
    spoil("UPDATE gyms SET settings = '{\"per_rack\": \"many\"}'");
    for p in ["/classes", "/record", "/members", "/settings", "/kit", &at(&h, "hour"), &at(&h, "log")] {
        let page = b.get(p);
        assert!(page.status == 200 && page.body.contains("settings cannot be read"), "{p}");
    }
}

#[test]
fn absurd_days_and_unseen_text_are_refused_or_left_out() {
    let s = Server::start();
    let h = s.hall("Edge", 1);
    let mut b = s.signed_in(&h);
    for week in ["%2B262142-12-31", "-262143-01-01", "0000-00-00", "9999-12-31", "%00"] {
        assert_eq!(b.get(&format!("/classes?week={week}")).status, 200, "{week}");
        assert_eq!(b.get(&format!("/classes/new?date={week}")).status, 200, "{week}");
    }
    assert_eq!(b.post(&at(&h, "sheet/copy"), &[("day", "+262142-12-31")]).status, 422);
    let far = b.post("/classes/new", &[("date", "9999-12-31"), ("time", "18:00")]);
    assert!(far.status == 422 && far.body.contains("Check the year"), "{}", far.body);
    let nul = b.post("/members/new", &[("name", "Ada\0\u{200b}"), ("standard", "lighter"), ("level", "new")]);
    assert_eq!(nul.status, 303, "{}", nul.body);
    assert!(roster::list(&mut s.database.conn(), h.gym).unwrap().iter().any(|m| m.name == "Ada"));
    let nobody = b.post("/members/new", &[("name", "\u{200b}\u{202e}"), ("standard", "lighter")]);
    assert!(nobody.status == 422 && nobody.body.contains("Write a name"), "{}", nobody.body);
    let limit = b.post("/members/new", &[("name", "Bo"), ("standard", "lighter"), ("limit", "kneee")]);
    assert!(limit.status == 422 && limit.body.contains("I do not know the limit"), "{}", limit.body);
    let mut conn = s.database.conn();
    let session = class::find(&mut conn, h.gym, h.class).unwrap().session;
    set_sheet(&mut conn, h.gym, session, QUAY).unwrap();
    assert_eq!(b.post(&at(&h, "sheet/check"), &[("sheet", "10 bur\0pees")]).status, 303);
}

/// As the page's own box sends it: with a key of its own.
fn keyed(b: &mut Browse, path: &str, key: &str, fields: &[(&str, &str)]) -> Answer {
    headed(b, path, &format!("HX-Request: true\r\nX-Key: {key}\r\n"), fields)
}

#[test]
fn a_change_that_is_sent_twice_is_done_once() {
    let s = Server::start();
    let h = s.hall("Twice", 1);
    let mut b = s.signed_in(&h);
    let key = "01a22670-9e0e-741f-9849-a57530e1d54b";
    let fields = [("key", "warm-up"), ("seconds", "480")];
    let count = || lantern_store::decision::list(&mut s.database.conn(), h.gym, h.class).unwrap().0.len();
    let first = keyed(&mut b, &at(&h, "length"), key, &fields);
    assert_eq!((first.status, count()), (303, 1), "{}", first.body);
    assert_eq!((keyed(&mut b, &at(&h, "length"), key, &fields).status, count()), (204, 1));
    let other = "01a22670-9e0e-741f-9849-a57530e1d54c";
    assert_eq!((keyed(&mut b, &at(&h, "length"), other, &fields).status, count()), (303, 2));
    // a form that adds has its key in itself
    let page = b.get("/members/new").body;
    let key = page.split("name=\"once\" value=\"").nth(1).unwrap().split('"').next().unwrap().to_owned();
    let new = [("name", "Cy"), ("standard", "lighter"), ("level", "new"), ("once", key.as_str())];
    assert_eq!(b.post("/members/new", &new).status, 303);
    let again = b.post("/members/new", &new);
    assert!(again.status == 200 && again.body.contains("sent twice and is done once"), "{}", again.body);
    let named = roster::list(&mut s.database.conn(), h.gym).unwrap();
    assert_eq!(named.iter().filter(|m| m.name == "Cy").count(), 1);
    // what was refused was not done: it may come again with the same key
    let third = "01a22670-9e0e-741f-9849-a57530e1d54d";
    let bad = [("name", ""), ("standard", "lighter"), ("level", "new"), ("once", third)];
    assert_eq!(b.post("/members/new", &bad).status, 422);
    let mended = [("name", "Di"), ("standard", "lighter"), ("level", "new"), ("once", third)];
    assert_eq!(b.post("/members/new", &mended).status, 303);
}

#[test]
fn an_expired_sign_in_is_told_to_a_script_and_leads_back() {
    let s = Server::start();
    let h = s.hall("Back", 1);
    let mut stranger = s.browse();
    let told = scripted(&mut stranger, &at(&h, "log"), &[("result", "9:00")]);
    assert_eq!(told.status, 401);
    assert!(told.body.contains("What you did waits here"), "{}", told.body);
    let page = stranger.get(&format!("/sign-in?next={}", encode(&at(&h, "log")))).body;
    stranger.csrf = super::token(&page);
    assert!(page.contains(&format!("name=\"next\" value=\"{}\"", at(&h, "log"))), "{page}");
    let fields =
        |next: &'static str| [("email", h.email.as_str()), ("password", super::PASSWORD), ("next", next)];
    let done = stranger.post("/sign-in", &fields("/kit"));
    assert_eq!((done.status, done.location.as_str()), (303, "/kit"));
    let mut other = s.browse();
    other.csrf = super::token(&other.get("/sign-in").body);
    let foreign = other.post("/sign-in", &fields("//evil.example"));
    assert_eq!((foreign.status, foreign.location.as_str()), (303, "/classes"));
}

#[test]
fn undo_is_ones_own_says_what_it_takes_back_and_can_be_done_again() {
    let s = Server::start();
    let h = s.hall("Own", 1);
    let mut conn = s.database.conn();
    let role = lantern_store::account::Role::Coach;
    lantern_store::account::add(&mut conn, h.gym, "bram@hall.example", "Bram", role, super::PASSWORD)
        .unwrap();
    let mut ines = s.signed_in(&h);
    let bram_hall = Hall { email: "bram@hall.example".to_owned(), ..s.hall("Else", 1) };
    let mut bram =
        s.signed_in(&Hall { gym: h.gym, class: h.class, member: h.member, email: bram_hall.email });
    let length = |b: &mut Browse, seconds: &str| {
        b.post(&at(&h, "length"), &[("key", "warm-up"), ("seconds", seconds)]).status
    };
    assert_eq!((length(&mut ines, "480"), length(&mut bram, "540")), (303, 303));
    let page = ines.get(&at(&h, "hour")).body;
    assert!(page.contains("Takes back: warm up of 8:00") && !page.contains("Redo"), "{page}");
    assert!(bram.get(&at(&h, "hour")).body.contains("Takes back: warm up of 9:00"));
    assert_eq!(ines.post(&at(&h, "undo"), &[("back", "hour"), ("as", "undo")]).status, 303);
    let (kept, _) = lantern_store::decision::list(&mut conn, h.gym, h.class).unwrap();
    assert_eq!(kept.len(), 1, "the other's stays");
    let page = ines.get(&at(&h, "hour")).body;
    assert!(page.contains("Does again: warm up of 8:00"), "{page}");
    // the list has both, whose they are and what is taken back
    let list = ines.get(&at(&h, "changes")).body;
    assert!(list.contains("<del>Warm up of 8:00</del>") && list.contains("Warm up of 9:00"), "{list}");
    assert!(list.contains("<td>Bram</td>") && list.contains("taken back"), "{list}");
    ines.post(&at(&h, "undo"), &[("back", "changes"), ("as", "redo")]);
    assert_eq!(lantern_store::decision::list(&mut conn, h.gym, h.class).unwrap().0.len(), 2);
    assert!(!ines.get(&at(&h, "changes")).body.contains("<del>"));
    // what one types of the sheet is not the other's draft
    ines.post(&at(&h, "sheet/check"), &[("sheet", "of Ines")]);
    bram.post(&at(&h, "sheet/check"), &[("sheet", "of Bram")]);
    assert!(ines.get(&at(&h, "sheet")).body.contains("of Ines"));
    assert!(!ines.get(&at(&h, "sheet")).body.contains("of Bram"));
    assert_eq!(save(&mut ines, &h, QUAY).status, 303);
    assert!(bram.get(&at(&h, "sheet")).body.contains("of Bram"), "it outlives the other's save");
    let mut stranger = s.signed_in(&s.hall("Stranger to changes", 1));
    assert_eq!(stranger.get(&at(&h, "changes")).status, 404);
}

#[test]
fn a_result_that_cannot_be_read_leaves_its_class_as_it_is() {
    use diesel::RunQueryDsl;
    let s = Server::start();
    let h = s.hall("Old result", 2);
    let mut b = s.signed_in(&h);
    log(&mut b, &h, &[("result", "9:00")]);
    let mut conn = s.database.conn();
    diesel::sql_query("UPDATE results SET outcome = '{\"kind\": \"lanterns\"}'").execute(&mut conn).unwrap();
    let page = b.get(&at(&h, "log"));
    assert_eq!(page.status, 200);
    assert!(
        page.body.contains("1 of the results kept for this class cannot be read any more"),
        "{}",
        page.body
    );
    for step in ["hour", "versions", "loads", "brief"] {
        assert_eq!(b.get(&at(&h, step)).status, 200, "{step}");
    }
    assert_eq!(b.get("/classes?week=2026-11-24").status, 200);
    assert_eq!(b.get("/record").status, 200);
}

#[test]
fn a_class_is_moved_cancelled_and_repeated_from_its_page() {
    let s = Server::start();
    let h = s.hall("Life", 2);
    let mut b = s.signed_in(&h);
    let page = b.get(&at(&h, "when")).body;
    assert!(page.contains("value=\"2026-11-24\"") && page.contains("value=\"12:00\""), "{page}");
    let bad = b.post(&at(&h, "when"), &[("date", "2026-11-25"), ("time", "noon"), ("length", "60")]);
    assert!(bad.status == 422 && bad.body.contains("value=\"noon\"") && bad.body.contains("is no time"));
    let good = [("date", "2026-11-25"), ("time", "07:30"), ("length", "75"), ("coach", "")];
    let saved = b.post(&at(&h, "when"), &good);
    assert_eq!(saved.status, 303);
    assert!(b.get("/classes?week=2026-11-25").body.contains("07:30"));
    // one press brings back what it was; without a change there is nothing to bring back
    let undo = b.get(&saved.location).body;
    assert!(
        undo.contains("Before: Tuesday 24 November, 12:00") && undo.contains("value=\"12:00\""),
        "{undo}"
    );
    assert_eq!(
        b.post(&at(&h, "when"), &[("date", "2026-11-24"), ("time", "12:00"), ("length", ""), ("coach", "")])
            .status,
        303
    );
    assert!(b.get(&at(&h, "when")).body.contains("value=\"2026-11-24\""));
    assert!(!b.get(&at(&h, "when?date=2026-11-24&time=12:00&length=&coach=")).body.contains("Before:"));
    b.post(&at(&h, "when"), &good);
    assert_eq!(b.post(&at(&h, "cancel"), &[("as", "off")]).location, "/classes?week=2026-11-25");
    assert!(b.get("/classes?week=2026-11-25").body.contains("cancelled"));
    assert!(b.get(&at(&h, "hour")).body.contains("This class is cancelled"));
    b.post(&at(&h, "cancel"), &[("as", "back")]);
    assert!(!b.get("/classes?week=2026-11-25").body.contains("cancelled"));
    assert_eq!(b.post(&at(&h, "repeat"), &[("weeks", "500")]).status, 422);
    assert_eq!(b.post(&at(&h, "repeat"), &[("weeks", "2")]).status, 303);
    for week in ["2026-12-02", "2026-12-09"] {
        assert!(b.get(&format!("/classes?week={week}")).body.contains("07:30"), "{week}");
    }
    let other = s.hall("Stranger", 1);
    let mut c = s.signed_in(&other);
    for (step, fields) in [("when", &good[..]), ("cancel", &[("as", "off")]), ("repeat", &[("weeks", "1")])] {
        assert_eq!(c.post(&at(&h, step), fields).status, 404, "{step}");
    }
}

#[test]
fn who_is_booked_after_the_first_result_is_logged_too() {
    let s = Server::start();
    let h = s.hall("Late", 1);
    let mut b = s.signed_in(&h);
    log(&mut b, &h, &[("result", "9:00")]);
    let mut conn = s.database.conn();
    let late = lantern_core::roster::Member::unknown(
        "Zoe",
        lantern_core::units::Standard::Lighter,
        lantern_core::pacing::Level::Regular,
    );
    let zoe = roster::add(&mut conn, h.gym, &late, 20).unwrap();
    booking::change(&mut conn, h.gym, h.class, &[zoe], &[]).unwrap();
    let page = b.get(&at(&h, "log")).body;
    assert!(page.contains("Zoe") && page.contains("1 of 2 logged"), "{page}");
    let zoe = zoe.to_string();
    let done = b.post(&at(&h, "log"), &[("block", "0"), ("member", &zoe), ("tier", "T"), ("result", "9:30")]);
    assert_eq!(done.status, 303, "{}", done.body);
    assert!(b.get(&at(&h, "log")).body.contains("2 of 2 logged"));
}

#[test]
fn a_press_on_an_older_sheet_decides_nothing() {
    let s = Server::start();
    let h = s.hall("Older", 1);
    let mut b = s.signed_in(&h);
    let member = h.member.to_string();
    let seen = version(&mut b, &h);
    assert!(b.get(&at(&h, "versions")).body.contains(&format!("data-version=\"{seen}\"")));
    save(&mut b, &h, &format!("{LIFT}{QUAY}"));
    let press = |b: &mut Browse, seen: &str| {
        let fields = [("block", "1"), ("member", member.as_str()), ("tier", "B"), ("seen", seen)];
        b.post(&at(&h, "version"), &fields).status
    };
    let count = || lantern_store::decision::list(&mut s.database.conn(), h.gym, h.class).unwrap().0.len();
    assert_eq!((press(&mut b, &seen), count()), (409, 0));
    let now = version(&mut b, &h);
    assert_eq!((press(&mut b, &now), count()), (303, 1));
}
