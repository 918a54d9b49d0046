//! What a coach answers the reader: a line's place, pounds or kilograms, the hall's own words.

use crate::harness::Server;

const HALL: [(&str, &str); 3] = [("training_max", "90"), ("class", "60:00"), ("per_rack", "3")];

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
    assert!(page.contains("61.23"), "135 lb are 61.23 kg");
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
