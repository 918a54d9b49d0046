//! Names tapped at the finish.

use crate::harness::Server;
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
    assert_eq!((stands.status, logged().len()), (303, 0));
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
    let shown = [fields[0], fields[1], fields[2], ("result", "9:05")];
    assert!(scripted(&mut b, &at, &shown).body.contains("9:05"), "what the screen showed at the tap counts");

    // taken back, the name stands there again
    let back = scripted(&mut b, &format!("{at}/back"), &fields[..2]);
    assert_eq!((back.status, logged().len()), (200, 0));
    assert!(back.body.contains("hl-name-tap") && back.body.contains("is taken back"), "{}", back.body);
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
    let page = b.get(&format!("/classes/{}/finish", h.class));
    assert!(
        page.status == 200 && page.body.contains("No workout of today is scored by its time"),
        "{}",
        page.body
    );
    assert!(!b.get(&format!("/classes/{}/log", h.class)).body.contains("/finish"));
}
