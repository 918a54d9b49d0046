//! Versions over HTTP: how they were found, choices kept or dropped, without kit, and what the log says about the next weeks.

use crate::harness::{Hall, Server};
use lantern_core::logbook::Outcome;
use lantern_store::testing::set_sheet;
use lantern_store::{logbook, roster};

const SHEET: &str = "# workout \"Quay\" cap 14:00 target 9:00-12:00\n3 rounds for time\n30 double-unders\n12 toes-to-bar\n12 power clean 60/42.5 kg\n400 m run\n";

fn with_sheet(s: &Server, h: &Hall, text: &str) {
    let mut conn = s.database.conn();
    let session = lantern_store::class::find(&mut conn, h.gym, h.class).unwrap().session;
    set_sheet(&mut conn, h.gym, session, text).unwrap();
}

#[test]
fn the_search_behind_a_version_is_shown_when_it_is_asked_for() {
    let s = Server::start();
    let h = s.hall("Alder", 4);
    with_sheet(&s, &h, SHEET);
    let mut b = s.signed_in(&h);
    let page = b.get(&format!("/classes/{}/versions", h.class));
    assert!(page.body.contains("candidates tried") && !page.body.contains("id=\"tried\""));
    let open = b.get(&format!("/classes/{}/versions?tried=0-B", h.class));
    assert!(open.body.contains("as the version above") && open.body.contains("Not taken"));
    for odd in ["0-X", "9-T", "T", "-", "0-F"] {
        let a = b.get(&format!("/classes/{}/versions?tried={odd}", h.class));
        assert_eq!((a.status, a.body.contains("id=\"tried\"")), (200, false), "{odd}");
    }
}

#[test]
fn choices_are_kept_round_a_new_suggestion_or_dropped() {
    let s = Server::start();
    let h = s.hall("Alder", 3);
    with_sheet(&s, &h, SHEET);
    let mut b = s.signed_in(&h);
    let member = h.member.to_string();
    let (page, post) =
        (format!("/classes/{}/versions", h.class), |p: &str| format!("/classes/{}/{p}", h.class));
    assert!(!b.get(&page).body.contains("Drop my choices"));
    b.post(&post("version"), &[("block", "0"), ("member", &member), ("tier", "B")]);
    assert!(b.get(&page).body.contains("keeping your 1"));
    b.post(&post("suggest"), &[("block", "0")]);
    let kept = b.get(&page).body;
    assert!(kept.contains("keeping your 1") && kept.contains("whom you put here"), "made round them");
    b.post(&post("suggest"), &[("block", "0"), ("drop", "yes")]);
    assert!(!b.get(&page).body.contains("Drop my choices"));
    b.post(&post("undo"), &[("back", "versions")]);
    assert!(b.get(&page).body.contains("keeping your 1"), "undo brings them back");
}

#[test]
fn a_variant_goes_under_the_draft_and_nothing_typed_is_lost() {
    let s = Server::start();
    let h = s.hall("Alder", 2);
    with_sheet(&s, &h, SHEET);
    let mut b = s.signed_in(&h);
    let at = format!("/classes/{}/variants", h.class);
    for (word, gone) in [
        ("no-barbell", "power clean"),
        ("no-rig", "toes to bar"),
        ("one-dumbbell", "toes to bar"),
        ("home", "power clean"),
    ] {
        let a = b.get(&format!("{at}?without={word}"));
        assert_eq!(a.status, 200);
        let versions = a.body.split("hl-options").nth(1).unwrap().split("</div>\n<ul").next().unwrap();
        let plain = versions.replace("dumbbell power clean", "").replace("single-db-power-clean", "");
        assert!(!plain.contains(gone), "{word}: {versions}");
    }
    assert_eq!(b.post(&at, &[("block", "0"), ("without", "gravity")]).status, 422);
    assert_eq!(b.post(&at, &[("block", "7"), ("without", "no rig")]).status, 404);
    assert_eq!(b.post(&at, &[("block", "0"), ("without", "no rig")]).status, 303);
    let draft = b.get(&format!("/classes/{}/sheet", h.class)).body;
    assert!(draft.contains("Quay, no rig") && draft.contains("12 toes-to-bar"), "both blocks stand there");
}

#[test]
fn a_result_says_how_much_was_done_and_the_log_remembers() {
    let s = Server::start();
    let h = s.hall("Alder", 2);
    with_sheet(&s, &h, "# workout cap 14:00\n4 rounds for time\n10 pull-ups\n15 air squats\n");
    let mut b = s.signed_in(&h);
    let member = h.member.to_string();
    let tier = |body: &str| if body.contains("value=\"F\" checked") { "F" } else { "B" };
    let page = b.get(&format!("/classes/{}/log", h.class)).body;
    let fields = [("block", "0"), ("member", member.as_str()), ("result", "9:10"), ("tier", tier(&page))];
    assert!(b.post(&format!("/classes/{}/log", h.class), &fields).status < 400);
    let mut conn = s.database.conn();
    let logged = logbook::list(&mut conn, h.gym, h.class).unwrap();
    assert_eq!(logged[0].outcome, Outcome::Time { seconds: 550.0 });
    let done = logged[0].volume.clone();
    assert!(done.get("squat").is_some_and(|n| *n >= 40.0), "{done:?}");
    let m = roster::find(&mut conn, h.gym, h.member).unwrap();
    assert_eq!(m.sessions.last().map(|s| s.reps.clone()), Some(done));
    assert_eq!(m.last_session, m.sessions.last().map(|s| s.date));
}
