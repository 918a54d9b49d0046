//! Names tapped at the finish.

use crate::harness::{Browse, Server};
use crate::held::scripted;
use chrono::{TimeDelta, Utc};
use lantern_core::hour::Press;
use lantern_store::{clock, logbook};

#[test]
fn a_name_is_tapped_and_the_clock_gives_the_time() {
    let s = Server::start();
    let h = s.hall("Alder", 2);
    let mut b = s.signed_in(&h);
    let at = format!("/classes/{}/finish", h.class);
    let member = h.member.to_string();
    let fields = [("block", "0"), ("member", member.as_str()), ("tier", "F")];
    let logged = || logbook::list(&mut s.database.conn(), h.gym, h.class).unwrap();
    assert!(b.get(&format!("/classes/{}/log", h.class)).body.contains(&at), "the log leads here");
    let page = b.get(&at).body;
    assert_eq!(page.matches("hl-name-tap").count(), 2, "everybody who is booked: {page}");

    // a clock that stands, or has only just begun, gives no time
    let stands = b.post(&at, &fields);
    assert_eq!((stands.status, logged().len()), (422, 0));
    assert!(stands.body.contains("clock stands") && stands.body.contains("</html>"), "also without a script");
    let stands = scripted(&mut b, &at, &fields);
    assert_eq!(stands.status, 422);
    assert!(stands.body.contains("clock stands") && stands.body.contains("hl-name-tap"), "{}", stands.body);
    let begun = Utc::now() - TimeDelta::seconds(10 + 522);
    clock::press(&mut s.database.conn(), h.gym, h.class, Press::Start, begun).unwrap();

    // without a script the clock of the server gives it, with one the screen's
    let done = scripted(&mut b, &at, &fields);
    assert_eq!(done.status, 200, "{}", done.body);
    assert!(done.body.contains("8:42") || done.body.contains("8:43"), "{}", done.body);
    assert!(done.body.contains("/finish/back") && !done.body.contains("hl-name-tap"), "{}", done.body);
    assert_eq!(logged().len(), 1);
    // another coach taps the same name a moment later: the first tap stays
    let shown = [fields[0], fields[1], fields[2], ("result", "9:05")];
    let again = scripted(&mut b, &at, &shown);
    assert!(again.status == 200 && again.body.contains("is logged already: 8:4"), "{}", again.body);
    assert!(!again.body.contains("9:05") && logged()[0].outcome.text().starts_with("8:4"), "{}", again.body);

    // taken back, the name stands there again
    let back = scripted(&mut b, &format!("{at}/back"), &fields[..2]);
    assert_eq!((back.status, logged().len()), (200, 0));
    assert!(back.body.contains("hl-name-tap") && back.body.contains("is taken back"), "{}", back.body);
    assert!(scripted(&mut b, &at, &shown).body.contains("9:05"), "what the screen showed at the tap counts");
    assert_eq!(b.post(&format!("{at}/back"), &fields[..2]).status, 303);
    // without a script the page comes back with what was done
    let done = b.post(&at, &shown);
    assert_eq!(done.status, 303);
    assert!(b.get(&done.location).body.contains("Member 0 9:05"), "{}", done.location);
    assert_eq!(b.post(&format!("{at}/back"), &fields[..2]).status, 303);
    // nonsense is refused at its place, and nothing of it is logged
    for (result, tier) in [("999999", "F"), ("soon", "F"), ("-1:00", "F"), ("9:05", "Z")] {
        let a = scripted(&mut b, &at, &[fields[0], fields[1], ("tier", tier), ("result", result)]);
        assert!(a.status == 422 && a.body.contains("role=\"alert\""), "{result} {tier}: {}", a.body);
    }
    assert_eq!(scripted(&mut b, &at, &[("block", "0"), ("member", "nobody")]).status, 404);
    assert_eq!(scripted(&mut b, &at, &[("block", "x"), fields[1]]).status, 404);
    let gone = scripted(&mut b, &at, &[("block", "7"), fields[1], fields[2], ("result", "9:05")]);
    assert!(gone.status == 422 && gone.body.contains("not on the sheet any more"), "{}", gone.body);
    // beyond the cap somebody has no time
    let late = scripted(&mut b, &at, &[fields[0], fields[1], fields[2], ("result", "12:30")]);
    assert!(late.status == 422 && late.body.contains("Type it in the log"), "{}", late.body);
    assert!(logged().is_empty());

    // another hall taps nobody here
    let other = s.hall("Birch", 1);
    let mut stranger = s.signed_in(&other);
    assert_eq!(stranger.get(&at).status, 404);
    assert_eq!(scripted(&mut stranger, &at, &shown).status, 404);
    assert_eq!(scripted(&mut stranger, &format!("{at}/back"), &fields[..2]).status, 404);
}

#[test]
fn where_nothing_is_scored_by_its_time_there_is_nobody_to_tap() {
    let s = Server::start();
    let h = s.hall("Alder", 2);
    let mut conn = s.database.conn();
    let session = lantern_store::class::find(&mut conn, h.gym, h.class).unwrap().session;
    lantern_store::testing::set_sheet(
        &mut conn,
        h.gym,
        session,
        "# workout\namrap 12\n10 burpees\n200 m run",
    )
    .unwrap();
    let mut b = s.signed_in(&h);
    let empty = s.hall("Birch", 0);
    let nobody = s.signed_in(&empty).get(&format!("/classes/{}/finish", empty.class));
    assert!(nobody.status == 200 && nobody.body.contains("Nobody is booked"), "{}", nobody.body);
    let page = b.get(&format!("/classes/{}/finish", h.class));
    assert!(
        page.status == 200 && page.body.contains("No workout of today is scored by its time"),
        "{}",
        page.body
    );
    assert!(!b.get(&format!("/classes/{}/log", h.class)).body.contains("/finish"));
}

#[test]
fn who_is_behind_is_cut_on_their_card_and_judged_apart() {
    let s = Server::start();
    let h = s.hall("Alder", 2);
    let mut b = s.signed_in(&h);
    let (at, member) = (format!("/classes/{}/finish", h.class), h.member.to_string());
    let row = [("block", "0"), ("member", member.as_str())];
    let behind = |at_s: &str| format!("{at}/behind?block=0&member={member}&at={at_s}");
    let asked = |b: &mut Browse, at_s: &str| b.get(&behind(at_s)).body;
    // a clock that stands has nobody behind; before the first round is due nobody is
    assert!(b.get(&format!("{at}/behind?block=0&member={member}")).body.contains("clock stands"));
    let early = asked(&mut b, "5");
    assert!(early.contains("Not late yet at 0:05: round 1 done on pace is "), "{early}");
    assert!(early.contains("</html>"), "without a script it is the page");

    // late enough that a cut helps: the steps are offered with where they end
    let (at_s, page) = (120..700)
        .step_by(10)
        .map(|t| (t.to_string(), asked(&mut b, &t.to_string())))
        .find(|(_, page)| page.contains("Cut it"))
        .unwrap();
    let steps = page.split("name=\"steps\" value=\"").nth(1).unwrap().split('"').next().unwrap().to_owned();
    let says = page.split("Cut it for").next().unwrap().rsplit("<b>").next().unwrap();
    let says = says.split("</b>").next().unwrap().to_owned();
    let take = [row[0], row[1], ("at", at_s.as_str()), ("steps", steps.as_str())];
    // what is not offered is not taken
    let (cut, cut_back) = (format!("{at}/cut"), format!("{at}/cut/back"));
    let kept = || lantern_store::cut::list(&mut s.database.conn(), h.gym, h.class).unwrap();
    let far = scripted(&mut b, &cut, &[take[0], take[1], take[2], ("steps", "77")]);
    assert!(far.body.contains("look at what is offered now") && kept().is_empty(), "{}", far.body);
    assert_eq!(scripted(&mut b, &cut, &[take[0], take[1], take[2], ("steps", "x")]).status, 422);
    let taken = scripted(&mut b, &cut, &take);
    assert!(taken.status == 200 && taken.body.contains(&says), "{says}: {}", taken.body);
    assert!(
        taken.body.contains("Take back the cut of") && taken.body.contains("hl-name-tap"),
        "{}",
        taken.body
    );
    assert_eq!(kept().len(), 1);

    // the member's own card has it, and tells their phone that it changed; nobody else's does
    let cards = lantern_store::booking::planned(&mut s.database.conn(), h.gym, h.class).unwrap();
    let link = |own: bool| cards.iter().find(|c| (c.member == h.member) == own).unwrap().card_token.clone();
    let card = format!("/card/{}", link(true));
    let own = b.get(&card).body;
    let said = format!(
        "From {}:{:02} on: {says}",
        at_s.parse::<u32>().unwrap() / 60,
        at_s.parse::<u32>().unwrap() % 60
    );
    assert!(own.contains(&said), "{said}: {own}");
    let key = format!("0-{steps}-{at_s}");
    assert!(own.contains(&format!("data-cuts=\"{key}\"")), "{own}");
    assert!(b.get(&format!("{card}/clock")).body.contains(&format!("\"cuts\":\"{key}\"")));

    assert!(!b.get(&format!("/card/{}", link(false))).body.contains(&said), "nobody else's has it");

    // the result is of other work: no range judges it
    let done = scripted(&mut b, &at, &[row[0], row[1], ("tier", "F"), ("result", "9:05")]);
    assert!(done.body.contains("after a cut"), "{}", done.body);
    // another coach's late press cuts nobody who is done
    let late = scripted(&mut b, &cut, &take);
    assert!(late.body.contains("is logged already: 9:05") && kept().len() == 1, "{}", late.body);
    let log = b.get(&format!("/classes/{}/log", h.class)).body;
    assert!(log.contains(&format!("cut at {}", said.split(' ').nth(1).unwrap())), "{log}");
    assert_eq!(scripted(&mut b, &cut_back, &row).status, 200);
    assert!(kept().is_empty() && !b.get(&card).body.contains(&said));
    assert!(!b.get(&at).body.contains("after a cut"));

    let mut stranger = s.signed_in(&s.hall("Birch", 1));
    assert_eq!(stranger.get(&behind(&at_s)).status, 404);
    assert_eq!(scripted(&mut stranger, &cut, &take).status, 404);
    assert_eq!(scripted(&mut stranger, &cut_back, &row).status, 404);
}
