//! Loads, racks, cycles and tables over HTTP.

use super::harness::{Browse, Hall, Server};
use lantern_core::kinds::Limit;
use lantern_core::loads::Attempt;
use lantern_core::roster::Max;
use lantern_store::testing::set_sheet;
use lantern_store::{class, lifting, roster, sheet};

fn with_sheet(server: &Server, hall: &Hall, text: &str) {
    let mut conn = server.database.conn();
    let session = class::find(&mut conn, hall.gym, hall.class).unwrap().session;
    set_sheet(&mut conn, hall.gym, session, text).unwrap();
}

fn loads(b: &mut Browse, hall: &Hall) -> String {
    b.get(&format!("/classes/{}/loads", hall.class)).body
}

#[test]
fn turns_that_do_not_fit_are_offered_ways_and_the_choice_is_kept_and_undone() {
    let server = Server::start();
    let hall = server.hall("Fit", 2);
    with_sheet(&server, &hall, "# strength\nfront squat 5 x 3 @ 70%, every 0:20\n");
    let mut b = server.signed_in(&hall);
    let page = loads(&mut b, &hall);
    // a set takes 3 x 3 + 8 s and 8 s more
    assert!(page.contains("1 members at a rack need 0:25") && page.contains("4 sets instead of 5"), "{page}");
    let at = format!("/classes/{}/fit", hall.class);
    assert_eq!(b.post(&at, &[("block", "0"), ("way", "sets 4")]).status, 303);
    let page = loads(&mut b, &hall);
    assert!(page.contains("You chose 4 sets.") && page.contains("4 sets of 3 every 0:25"), "{page}");
    assert_eq!(b.post(&at, &[("block", "0"), ("way", "as-written 0")]).status, 303);
    assert!(loads(&mut b, &hall).contains("5 sets of 3 every 0:20"));
    assert_eq!(b.post(&at, &[("block", "0"), ("way", "racks 9000")]).status, 422);
    assert_eq!(b.post(&at, &[("block", "0"), ("way", "wings")]).status, 422);
}

#[test]
fn sets_are_logged_once_corrected_and_taken_back() {
    let server = Server::start();
    let hall = server.hall("Sets", 1);
    with_sheet(&server, &hall, "# strength\nfront squat 3 x 3 @ 70%\n");
    let mut b = server.signed_in(&hall);
    let at = format!("/classes/{}/rack/1", hall.class);
    let member = hall.member.to_string();
    let page = b.get(&at).body;
    assert!(page.contains("set 1 of 3") && page.contains("Sets Member 0"), "{page}");
    let set = |went: &'static str, number: &'static str, kg: &'static str| {
        vec![("block", "0"), ("lift", "0"), ("number", number), ("planned", "60"), ("went", went), ("kg", kg)]
    };
    let mut send = |fields: Vec<(&str, &str)>| {
        let mut all = fields;
        all.push(("member", &member));
        let answer = b.post(&at, &all);
        (answer.status, answer.body)
    };
    assert_eq!(send(set("2", "1", "")).0, 303);
    // a second tap on the same set changes nothing
    assert_eq!(send(set("1", "1", "")).0, 303);
    let (status, page) = send(set("done", "2", "heavy"));
    assert_eq!(status, 422);
    assert!(page.contains("Write the weight as a number") && page.contains("value=\"heavy\""), "{page}");
    assert_eq!(send(set("missed", "2", "62,5")).0, 303);
    let logged = |n: usize| {
        let all = lifting::list(&mut server.database.conn(), hall.gym, hall.class).unwrap();
        assert_eq!(all.len(), n, "{all:?}");
        all.last().map(|s| s.went)
    };
    assert_eq!(logged(2), Some(Attempt { kg: 62.5, reps: 2, reserve: None, missed: true }));
    assert_eq!(send(set("back", "0", "")).0, 303);
    assert_eq!(logged(1), Some(Attempt { kg: 60.0, reps: 3, reserve: Some(2), missed: false }));
    // somebody who is not booked, a lift that is not there
    let stranger = uuid_of_nobody();
    let fields = [
        ("block", "0"),
        ("lift", "0"),
        ("number", "1"),
        ("planned", "60"),
        ("went", "2"),
        ("member", &*stranger),
    ];
    assert_eq!(b.post(&at, &fields).status, 404);
    let fields = [
        ("block", "7"),
        ("lift", "0"),
        ("number", "1"),
        ("planned", "60"),
        ("went", "2"),
        ("member", &*member),
    ];
    assert_eq!(b.post(&at, &fields).status, 404);
    assert_eq!(b.get(&format!("/classes/{}/rack/9", hall.class)).status, 404);
    assert_eq!(b.get(&format!("/classes/{}/rack/0", hall.class)).status, 404);
}

fn uuid_of_nobody() -> String {
    lantern_store::MemberId::fresh().to_string()
}

#[test]
fn another_hall_sees_no_rack_no_cycle_and_no_progress() {
    let server = Server::start();
    let (ours, theirs) = (server.hall("Ours", 1), server.hall("Theirs", 1));
    with_sheet(&server, &ours, "# strength\nfront squat 3 x 3 @ 70%\n");
    let mut b = server.signed_in(&ours);
    let cycle = b.post("/cycles/new", &cycle_form("front squat")).location;
    assert!(cycle.starts_with("/cycles/"), "{cycle}");
    let mut c = server.signed_in(&theirs);
    for at in [
        format!("/classes/{}/rack/1", ours.class),
        cycle.clone(),
        format!("/members/{}/lifts/front-squat", ours.member),
    ] {
        assert_eq!(c.get(&at).status, 404, "{at}");
    }
    assert_eq!(c.post(&format!("{cycle}/remove"), &[]).status, 404);
    assert_eq!(c.post(&format!("{cycle}/hold"), &[("week", "2026-11-23"), ("as", "hold")]).status, 404);
    let member = ours.member.to_string();
    let set = [
        ("block", "0"),
        ("lift", "0"),
        ("number", "1"),
        ("planned", "60"),
        ("went", "2"),
        ("member", &*member),
    ];
    assert_eq!(c.post(&format!("/classes/{}/rack/1", ours.class), &set).status, 404);
    assert!(!c.get("/cycles").body.contains("Autumn"));
    assert!(b.get("/cycles").body.contains("Autumn"));
}

fn cycle_form(lift: &str) -> Vec<(&'static str, &str)> {
    let mut f = vec![
        ("name", "Autumn"),
        ("lift", lift),
        ("start", "2026-11-09"),
        ("of", "1rm"),
        ("of_reps", ""),
        ("every", "2:30"),
        ("window", "15:00"),
    ];
    for [kind, sets, reps, low, high] in [
        ["work", "5", "5", "70", "74"],
        ["fill", "", "", "", ""],
        ["work", "5", "3", "80", "84"],
        ["", "", "", "", ""],
    ] {
        f.extend([("kind", kind), ("sets", sets), ("reps", reps), ("low", low), ("high", high)]);
    }
    f
}

#[test]
fn a_cycle_gives_the_class_its_week_and_a_missed_week_can_come_later() {
    let server = Server::start();
    let hall = server.hall("Cycle", 1);
    with_sheet(&server, &hall, "# strength\nfront squat from the cycle\n");
    let mut b = server.signed_in(&hall);
    assert!(loads(&mut b, &hall).contains("No cycle of front squat runs on 24 November"));
    assert!(b.get("/classes").body.contains("front squat from the cycle"));
    assert!(
        b.get(&format!("/classes/{}/sheet", hall.class)).body.contains("sets and percentages from its cycle")
    );
    let mut wrong = cycle_form("frunt");
    wrong[2].1 = "someday";
    let page = b.post("/cycles/new", &wrong);
    assert_eq!(page.status, 422);
    assert!(
        page.body.contains("frunt")
            && page.body.contains("no date")
            && page.body.contains("value=\"Autumn\"")
    );
    let at = b.post("/cycles/new", &cycle_form("front squat")).location;
    // 24 November lies in the third week
    let page = loads(&mut b, &hall);
    assert!(
        page.contains("Autumn, week 3 of 3: 5 x 3 at 80 to 84 %") && page.contains("5 sets of 3 every 2:30"),
        "{page}"
    );
    let page = b.get(&at).body;
    assert!(page.contains("week 2") && page.contains("nobody"), "{page}");
    assert_eq!(b.post(&format!("{at}/hold"), &[("week", "2026-11-16"), ("as", "hold")]).status, 303);
    // what was the second week comes now: evenly between
    assert!(loads(&mut b, &hall).contains("week 2 of 3: 5 x 4 at 75 to 79 %"));
    assert_eq!(b.post(&format!("{at}/hold"), &[("week", "2026-11-16"), ("as", "count")]).status, 303);
    assert!(loads(&mut b, &hall).contains("week 3 of 3"));
    assert_eq!(b.post(&format!("{at}/remove"), &[]).location, "/cycles");
    assert_eq!(b.get(&at).status, 404);
}

#[test]
fn last_time_stands_beside_today_and_progress_is_drawn() {
    let server = Server::start();
    let hall = server.hall("Past", 1);
    with_sheet(&server, &hall, "# strength\nfront squat 3 x 3 @ 70%\n");
    let mut conn = server.database.conn();
    let day = super::now().date();
    let session = sheet::add(&mut conn, hall.gym, day - chrono::Duration::days(7), "").unwrap();
    let new = lantern_store::class::NewClass {
        session,
        starts_at: super::now() - chrono::Duration::days(7),
        length_s: None,
        places: None,
        coach: None,
        booked: vec![hall.member],
    };
    let before = class::add(&mut conn, hall.gym, &new).unwrap();
    for (number, kg, missed) in [(1, 57.5, false), (2, 62.5, false), (3, 67.5, true)] {
        let place = lifting::Place { member: hall.member, block: 0, lift: 0, number };
        let went = Attempt { kg, reps: 3, reserve: Some(2), missed };
        let set = lifting::LiftedSet { place, movement: "front-squat".into(), went };
        lifting::log(&mut conn, hall.gym, before, &set).unwrap();
    }
    let mut b = server.signed_in(&hall);
    let page = loads(&mut b, &hall);
    assert!(page.contains("Last time") && page.contains("62.5 × 3, 2 left, 17 Nov"), "{page}");
    let max = Max { lift: "front-squat".into(), kg: 80.0, reps: 1, reserve: 0, date: Some(day) };
    roster::add_maxes(&mut conn, hall.gym, hall.member, &[max]).unwrap();
    let page = b.get(&format!("/members/{}/lifts/front-squat", hall.member)).body;
    assert!(page.contains("class=\"tested\"") && page.contains("62.5 kg x 3 with 2 left"), "{page}");
    assert!(b.get(&format!("/members/{}", hall.member)).body.contains("lifts/front-squat"));
    assert_eq!(b.get(&format!("/members/{}/lifts/wings", hall.member)).status, 404);
}

#[test]
fn the_racks_on_the_wall_show_weights_and_nobody_with_a_limit() {
    let server = Server::start();
    let hall = server.hall("Wall", 2);
    let mut conn = server.database.conn();
    let mut m = roster::find(&mut conn, hall.gym, hall.member).unwrap();
    m.limits = vec![Limit::Wrist];
    roster::change(&mut conn, hall.gym, hall.member, |_| m.clone()).unwrap();
    with_sheet(&server, &hall, "# strength\nfront squat 3 x 3 @ 70%, every 2:30\n");
    let mut b = server.signed_in(&hall);
    let page = b.get(&format!("/classes/{}/wall/racks", hall.class)).body;
    assert!(page.contains("Wall Member 1") && page.contains("every 2:30"), "{page}");
    assert!(
        !page.contains("Wall Member 0") && !page.contains("wrist") && !page.contains("Back squat"),
        "{page}"
    );
    assert!(b.get(&format!("/classes/{}/floor", hall.class)).body.contains("wall/racks"));
    with_sheet(&server, &hall, "# workout\nfor time\n50 burpees\n");
    assert_eq!(b.get(&format!("/classes/{}/wall/racks", hall.class)).status, 404);
}

#[test]
fn a_table_of_maxes_is_shown_with_its_bad_cells_before_anything_is_kept() {
    let server = Server::start();
    let hall = server.hall("Table", 1);
    let mut b = server.signed_in(&hall);
    let text = "member,lift,kg,reps,left,date\nTable Member 0,deadlift,150,3,1,2026-11-20\nNobody,deadlift,150,,,\nTable Member 0,body mass,81,,,\n";
    let page = b.post("/members/import", &[("text", text)]);
    assert_eq!(page.status, 200);
    assert!(
        page.body.contains("No member is called Nobody.") && page.body.contains("2 right, 1 to mend"),
        "{}",
        page.body
    );
    let known = || roster::find(&mut server.database.conn(), hall.gym, hall.member).unwrap();
    assert!(known().maxes.is_empty(), "nothing is kept yet");
    let page = b.post("/members/import", &[("text", text), ("do", "keep")]).body;
    assert!(page.contains("2 figures kept. Left out: line 3."), "{page}");
    let m = known();
    assert_eq!((m.body_mass_kg, m.maxes.len(), m.maxes[0].kg, m.maxes[0].reserve), (Some(81.0), 1, 150.0, 1));
    let csv = b.get("/members/known.csv").body;
    assert!(csv.contains("Table Member 0,deadlift,150,3,1,2026-11-20"), "{csv}");
    let page = b.post("/members/import", &[("text", "who,what\n1,2")]);
    assert_eq!(page.status, 422);
    assert!(page.body.contains("member is missing"));
}

#[test]
fn a_kit_in_pounds_is_planned_and_shown_in_pounds() {
    let server = Server::start();
    let hall = server.hall("Pounds", 1);
    let mut conn = server.database.conn();
    lantern_store::kit::change(&mut conn, hall.gym, &lantern_core::kit::Kit::usual_pounds()).unwrap();
    let kg = 300.0 * lantern_core::units::KG_PER_LB;
    let max = Max { lift: "back-squat".into(), kg, reps: 1, reserve: 0, date: Some(super::now().date()) };
    roster::add_maxes(&mut conn, hall.gym, hall.member, &[max]).unwrap();
    with_sheet(&server, &hall, "# strength\nback squat 3 x 3 @ 75%\n");
    let mut b = server.signed_in(&hall);
    let page = loads(&mut b, &hall);
    // 75 % of 300 lb: a bar of 45 and two 45s a side
    assert!(page.contains("in lb") && page.contains(">225<") && page.contains("45 lb bar"), "{page}");
    let kit = b.get("/kit").body;
    assert!(kit.contains("value=\"45\"") && kit.contains("One collar, lb"), "{kit}");
}

#[test]
fn a_rest_begins_with_a_set_and_ends_by_the_plan() {
    let server = Server::start();
    let hall = server.hall("Rest", 2);
    with_sheet(&server, &hall, "# strength\nfront squat 3 x 3 @ 70%, every 2:30\n");
    let mut b = server.signed_in(&hall);
    let rack = format!("/classes/{}/rack/1?at=0-0", hall.class);
    assert!(!b.get(&rack).body.contains("data-rested"), "nobody has lifted yet");
    let mut conn = server.database.conn();
    let number = |page: &str, name: &str| -> Vec<i64> {
        let of = |part: &str| part.split('"').next().unwrap().parse().unwrap();
        page.split(&format!("{name}=\"")).skip(1).map(of).collect()
    };
    for n in 1..=3 {
        let place = lifting::Place { member: hall.member, block: 0, lift: 0, number: n };
        let went = Attempt { kg: 50.0, reps: 3, reserve: Some(2), missed: false };
        let set = lifting::LiftedSet { place, movement: "front-squat".into(), went };
        lifting::log(&mut conn, hall.gym, hall.class, &set).unwrap();
        let page = b.get(&rack).body;
        let (now, rested) = (number(&page, "data-now")[0], number(&page, "data-rested"));
        match n {
            // every 2:30 less the set itself, the other member has none
            1 | 2 => {
                let left = (rested[0] - now) / 1000;
                assert!(rested.len() == 1 && (100..150).contains(&left), "set {n}: {left} s");
            }
            _ => assert!(rested.is_empty(), "after the last set nothing is rested for: {page}"),
        }
    }
}
