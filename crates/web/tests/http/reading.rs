//! What a coach answers the reader: a line's place, pounds or kilograms, the hall's own words.

use crate::harness::Server;

const HALL: [(&str, &str); 6] = [
    ("name", "Alder"),
    ("zone", "Europe/Dublin"),
    ("week_from", "Monday"),
    ("training_max", "90"),
    ("class", "60:00"),
    ("per_rack", "3"),
];

#[test]
fn a_line_in_doubt_is_placed_by_one_click_and_stays_so() {
    let s = Server::start();
    let (one, two) = (s.hall("Alder", 1), s.hall("Birch", 1));
    let mut b = s.signed_in(&one);
    let at = format!("/classes/{}/sheet", one.class);
    let text = "10 push-ups\n20 sit-ups\n\n# workout\nfor time\n50 burpees";
    b.post(&at, &[("sheet", text)]);
    assert!(!b.get(&at).body.contains("<i>Warm-up</i>"));
    let choose = format!("{at}/choose");
    assert_eq!(b.post(&choose, &[("sheet", text), ("choose", "1.warm-up")]).status, 303);
    let page = b.get(&at).body;
    assert!(
        page.contains("Warm-up") && page.contains("Saved."),
        "the choice is kept, the text was not touched"
    );
    // it is kept by the line's text: a line above does not move it
    let longer = format!("Quay evening\n{text}");
    b.post(&at, &[("sheet", &longer)]);
    assert!(b.get(&at).body.contains("Warm-up"));
    assert_eq!(b.post(&choose, &[("sheet", text), ("choose", "1.nap")]).status, 422);
    let theirs = format!("/classes/{}/sheet/choose", two.class);
    assert_eq!(b.post(&theirs, &[("sheet", text), ("choose", "1.warm-up")]).status, 404);
}

#[test]
fn pounds_are_asked_about_once_for_the_hall() {
    let s = Server::start();
    let h = s.hall("Alder", 1);
    let mut b = s.signed_in(&h);
    let at = format!("/classes/{}/sheet", h.class);
    let text = "21-15-9 for time\nthrusters 95/65\npull-ups";
    b.post(&at, &[("sheet", text)]);
    let page = b.get(&at).body;
    assert!(page.contains("usual pair in pounds") && page.contains("95/65 lb") && page.contains("95/65 kg"));
    assert_eq!(b.post(&format!("{at}/take"), &[("sheet", text), ("take", "0.0")]).status, 303);
    // another sheet of the hall is not asked about again, and is in pounds
    b.post(&at, &[("sheet", "for time\n30 power cleans 135/95")]);
    let page = b.get(&at).body;
    assert!(!page.contains("usual pair in pounds"), "asked again");
    assert!(page.contains("135/95 lb"), "printed back as it was typed");
    // 135 lb are 61.23 kg and 95 lb are 43.09: the hall builds 60 and 42.5
    let versions = b.get(&format!("/classes/{}/versions", h.class)).body;
    assert!(versions.contains("30 power cleans 60/42.5 kg"), "{versions}");
    assert!(versions.contains("the sheet says 135/95 lb"), "said once");
}

#[test]
fn messages_stand_on_the_wall_until_the_clock_starts_and_on_the_brief() {
    let s = Server::start();
    let h = s.hall("Alder", 1);
    let mut b = s.signed_in(&h);
    let at = |page: &str| format!("/classes/{}/{page}", h.class);
    let text = "Please bring a towel <b>today</b>, we are full.\n\nfor time cap 12\n30 burpees\n20 sit-ups";
    b.post(&at("sheet"), &[("sheet", text)]);
    let said = "Please bring a towel &#60;b&#62;today";
    for page in ["wall", "brief"] {
        assert!(b.get(&at(page)).body.contains(said), "{page}");
    }
    let brief = b.get(&at("brief")).body;
    assert!(brief.contains("30 burpees") && brief.contains("cap 12:00"), "{brief}");
    b.post(&at("clock"), &[("clock", "start")]);
    let wall = b.get(&at("wall")).body;
    let opened = |id: &str| wall.split(&format!("id=\"{id}\"")).nth(1).and_then(|r| r.split('>').next());
    assert!(
        opened("said").unwrap().ends_with("hidden") && opened("clock") == Some(""),
        "the clock has its place"
    );
    assert!(b.get(&at("brief")).body.contains(said));
}

#[test]
fn the_words_of_a_hall_are_typed_in_settings() {
    let s = Server::start();
    let h = s.hall("Alder", 1);
    let mut b = s.signed_in(&h);
    let at = format!("/classes/{}/sheet", h.class);
    let text = "for time\n20 quay hops";
    b.post(&at, &[("sheet", text)]);
    assert!(b.get(&at).body.contains("I do not know “quay hops”"));
    let mut fields = HALL.to_vec();
    fields.push(("phrases", "quay hops = plate hopp"));
    let wrong = b.post("/settings", &fields);
    assert_eq!(wrong.status, 422);
    assert!(wrong.body.contains("Did you mean plate hop?") && wrong.body.contains("quay hops = plate hopp"));
    fields.pop();
    fields.push(("phrases", "quay hops = plate hop\nstorm = heading of a workout"));
    assert_eq!(b.post("/settings", &fields).status, 200);
    assert!(!b.get(&at).body.contains("I do not know"), "the hall's word is known now");
}
