//! The hour over HTTP: ways to fit are offered, taken and taken back; a late class puts the rest behind what runs.

use super::harness::{Browse, Hall, Server};
use lantern_core::kinds::Gear;
use lantern_core::plan::Decision;
use lantern_store::testing::set_sheet;
use lantern_store::{booking, class, decision, kit};

const LONG: &str = "# strength\nback squat 5 x 5 @ 75%, every 3:00\n# workout cap 24:00 target 14:00-20:00\n5 rounds for time\n20 burpees\n15 air squats\n500 m row";

fn long(server: &Server, hall: &Hall) {
    let mut conn = server.database.conn();
    let session = class::find(&mut conn, hall.gym, hall.class).unwrap().session;
    set_sheet(&mut conn, hall.gym, session, LONG).unwrap();
}

fn kept(server: &Server, hall: &Hall) -> Vec<Decision> {
    decision::list(&mut server.database.conn(), hall.gym, hall.class).unwrap().0
}

/// What the button of a way sends, as it stands on the page.
fn offered(page: &str, says: &str) -> String {
    let label = format!("aria-label=\"Do this: {says}");
    let at = page.find(&label).unwrap_or_else(|| panic!("no way {says}: {page}"));
    value_before(&page[..at])
}

fn value_before(page: &str) -> String {
    let from = page.rfind("name=\"decisions\" value=\"").unwrap() + "name=\"decisions\" value=\"".len();
    let text = &page[from..from + page[from..].find('"').unwrap()];
    text.replace("&#34;", "\"").replace("&quot;", "\"")
}

fn get(b: &mut Browse, hall: &Hall, step: &str) -> String {
    b.get(&format!("/classes/{}/{step}", hall.class)).body
}

#[test]
fn a_day_that_runs_over_is_mended_by_one_press_and_unmended_by_another() {
    let server = Server::start();
    let hall = server.hall("Alder", 4);
    long(&server, &hall);
    let mut b = server.signed_in(&hall);
    let page = get(&mut b, &hall, "hour");
    assert!(page.contains("The hour runs") && page.contains("hx-get=\"/classes/"), "{page}");
    let ways = get(&mut b, &hall, "ways");
    assert!(ways.contains("As it stands") && ways.contains("of 4"), "{ways}");
    let at = format!("/classes/{}/ways", hall.class);
    let rounds = offered(&ways, "4 rounds instead of 5");
    assert_eq!(b.post(&at, &[("decisions", &rounds)]).status, 303);
    assert!(matches!(kept(&server, &hall)[..], [Decision::Less { percent: 80, .. }]));
    let pacing = get(&mut b, &hall, "brief");
    assert!(pacing.contains("4 rounds") && !pacing.contains("5 rounds"), "{pacing}");
    assert!(get(&mut b, &hall, "hour").contains("A shorter workout"), "what is decided stands on the page");
    // what was offered before is not there any more
    assert_eq!(b.post(&at, &[("decisions", &rounds)]).status, 409);
    assert_eq!(
        b.post(&format!("/classes/{}/undo", hall.class), &[("as", "undo"), ("back", "hour")]).status,
        303
    );
    assert!(kept(&server, &hall).is_empty());
    // all of a set, or none of it
    let ways = get(&mut b, &hall, "ways");
    let together = &ways[..ways.find("id=\"way-all\"").unwrap()];
    let all = value_before(together);
    let one_more = all.replacen('[', r#"[{"kind":"heats","block":1,"heats":4},"#, 1);
    assert_eq!(b.post(&at, &[("decisions", &one_more)]).status, 409);
    assert!(kept(&server, &hall).is_empty());
    assert_eq!(b.post(&at, &[("decisions", &all)]).status, 303);
    assert_eq!(kept(&server, &hall), serde_json::from_str::<Vec<Decision>>(&all).unwrap());
    assert!(!get(&mut b, &hall, "hour").contains("The hour runs"));
    // taken back one by one, not only the last
    let page = get(&mut b, &hall, "hour");
    let back = value_before(&page[..page.rfind("Take back</button>").unwrap()]);
    assert_eq!(b.post(&at, &[("decisions", &back)]).status, 303);
    assert_eq!(b.post(&at, &[("decisions", &back)]).status, 409, "it is taken back already");
    for nonsense in [
        "[{\"kind\":\"length\",\"key\":\"warm-up\",\"seconds\":4000000000}]",
        "",
        "[]",
        "{}",
        "[{\"kind\":\"fly\"}]",
    ] {
        let status = b.post(&at, &[("decisions", nonsense)]).status;
        assert!(status == 422 || status == 409, "{nonsense}: {status}");
    }
}

#[test]
fn kit_that_is_short_is_named_and_heats_are_on_every_page() {
    let server = Server::start();
    let hall = server.hall("Beech", 4);
    long(&server, &hall);
    let mut few = kit::find(&mut server.database.conn(), hall.gym).unwrap();
    few.counts.insert(Gear::RowingErg, 2);
    kit::change(&mut server.database.conn(), hall.gym, &few).unwrap();
    let mut b = server.signed_in(&hall);
    let page = get(&mut b, &hall, "hour");
    assert!(page.contains("4 are at the rowing erg for the row at"), "{page}");
    assert!(
        page.contains("(Beech Member 0, Beech Member 1, Beech Member 2, Beech Member 3) and there are 2")
    );
    let ways = get(&mut b, &hall, "ways");
    let heats = offered(&ways, "2 heats");
    assert_eq!(b.post(&format!("/classes/{}/ways", hall.class), &[("decisions", &heats)]).status, 303);
    let page = get(&mut b, &hall, "hour");
    assert!(page.contains("Heat 1") && page.contains("Heat 2") && page.contains("Change of heats"), "{page}");
    assert!(!page.contains("rowing erg for the row"), "two at a time have enough");
    let booked = booking::planned(&mut server.database.conn(), hall.gym, hall.class).unwrap();
    let cards: Vec<String> = booked.iter().map(|x| b.get(&format!("/card/{}", x.card_token)).body).collect();
    let of = |heat: &str| cards.iter().filter(|c| c.contains(heat)).count();
    assert_eq!((of("heat 1"), of("heat 2")), (2, 2));
}

#[test]
fn a_late_class_puts_the_rest_behind_what_runs() {
    let server = Server::start();
    let hall = server.hall("Cedar", 4);
    long(&server, &hall);
    let mut b = server.signed_in(&hall);
    let at = format!("/classes/{}/running", hall.class);
    let say = |b: &mut Browse, key: &str, time: &str, left: &str| {
        b.post(&at, &[("key", key), ("at", time), ("left", left)])
    };
    assert_eq!(say(&mut b, "strength-0", "12:24", "7,5").status, 303);
    let page = get(&mut b, &hall, "hour");
    assert!(page.contains("You said that at 12:24 strength still ran and needed 7:30."), "{page}");
    assert!(page.contains("runs now") && page.contains("over</b>"), "{page}");
    for (key, time, left, why) in [
        ("strength-0", "soon", "5", "is no time of day. Write 18:24."),
        ("strength-0", "11:00", "5", "before the class"),
        ("strength-0", "12:24", "many", "is no number of minutes"),
        ("strength-0", "12:24", "999", "needs 0 to 120 minutes"),
        ("siesta", "12:24", "5", "not in the hour"),
    ] {
        let a = say(&mut b, key, time, left);
        assert!(a.status == 422 && a.body.contains(why), "{key} {time} {left}: {} {}", a.status, a.body);
        let kept = format!("value=\"{left}\"");
        assert!(
            a.body.contains(&kept) && a.body.contains("The hour"),
            "what was typed is still there: {}",
            a.body
        );
    }
    assert_eq!(b.post(&at, &[("do", "as-planned")]).status, 303);
    assert!(!get(&mut b, &hall, "hour").contains("still ran"));
}
