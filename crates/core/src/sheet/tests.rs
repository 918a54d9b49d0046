//! Single lines, exactly.

use super::*;

fn one(text: &str) -> MoveLine {
    let reading = read(&format!("# workout cap 20:00\nfor time\n{text}"));
    assert!(!reading.has_errors(), "{text}: {:?}", reading.problems);
    let moves: Vec<MoveLine> = reading.sheet.blocks[0].moves().cloned().collect();
    assert_eq!(moves.len(), 1, "{text}: {reading:?}");
    moves[0].clone()
}

fn first_error(text: &str) -> Problem {
    let reading = read(text);
    reading.problems.into_iter().find(|p| p.severity == Severity::Error).expect(text)
}

#[test]
fn every_pattern_of_the_reader_compiles() {
    // a pattern that did not compile would match nothing: one line for each of them
    let text = "# strength 18:00\nfront squat 5 x 3 @ 78-82% of 1RM, every 2:30, rest 2:00, last 2 at top, tempo 3-1-X-0\nweek 3 of 6\n# workout cap 14:00 target 9:00-12:00\n3 rounds for time\n12 power clean 60/42.5 kg (touch and go)\nno barbell: 12 dumbbell power clean 2 x 22.5 kg\nrest 1:00\nsets: power clean <= 2\nunbroken: power clean >= half\nrest: >= 0:30 each cycle\npace: >= 6 reps/min\nround: <= 5:00\nlimit: grip\nscore: time";
    let reading = read(text);
    assert_eq!(reading.problems, vec![]);
    let [strength, workout] = reading.sheet.blocks.as_slice() else { panic!("{reading:?}") };
    let lift = &strength.lifts[0];
    assert_eq!(
        (lift.reps.clone(), lift.every_s, lift.rest_s, lift.last_at_top),
        (vec![3; 5], Some(150), Some(120), Some(2))
    );
    assert_eq!(lift.tempo, Some(Tempo([3, 1, 0, 0])));
    assert_eq!(lift.percent, Some(Percent::between(78.0, 82.0, PercentBase::OneRm)));
    assert_eq!(strength.week, Some([3, 6]));
    assert_eq!((workout.cap_s, workout.wishes.len(), workout.score), (Some(840), 6, Some(Score::Time)));
    assert_eq!(workout.moves().next().unwrap().without_kit.len(), 1);
    assert_eq!(workout.fixed_rest_s(), 120);
}

#[test]
fn loads_are_read_in_the_ways_people_type_them() {
    let kg = |text: &str| match one(text).load {
        Some(Load::Kg { kg, implements, .. }) => (kg, implements),
        other => panic!("{text}: {other:?}"),
    };
    assert_eq!(kg("12 power cleans 60/42,5 kg"), ([60.0, 42.5], 1));
    assert_eq!(kg("12 power cleans (60/42.5kg)"), ([60.0, 42.5], 1));
    assert_eq!(kg("12 power cleans @ 60 kg"), ([60.0, 60.0], 1));
    assert_eq!(kg("12 thrusters 95#"), ([43.09, 43.09], 1));
    assert_eq!(kg("10 dumbbell thrusters 2 x 22.5/15 kg"), ([22.5, 15.0], 2));
    assert_eq!(one("20 box jumps 24/20 in").height_cm, Some([61.0, 51.0]));
    assert_eq!(one("12 power clean (5 s pause)").load, None);
}

#[test]
fn counts_are_read_in_the_ways_people_type_them() {
    assert_eq!(
        (one("1.2 km run").count, one("1.2 km run").unit),
        (Some(Count::Each(1200.0)), crate::units::Unit::Metres)
    );
    assert_eq!(one("15/12 cal row").count, Some(Count::ByStandard([15.0, 12.0])));
    assert_eq!(one("0:30 plank").count, Some(Count::Each(30.0)));
    assert!(one("5 each side lunges").per_side);
    assert_eq!(one("• 30 double unders,").movement, Named::Known("double-under".to_owned()));
    assert!(one("[1 muscle-up]").optional);
}

#[test]
fn an_equal_pair_is_a_side_each_only_where_there_are_sides() {
    let of = |text: &str| (one(text).count, one(text).per_side);
    let each = |n: f64| Some(Count::Each(n));
    for text in
        ["10/10 lunges", "10/10 dumbbell snatches", "lunges 10/10", "10/10 box step-ups", "10+10 lunges"]
    {
        assert_eq!(of(text), (each(10.0), true), "{text}");
    }
    // the same for both standards
    for text in ["10/10 push-ups", "push-ups 10/10", "10/10 box jumps", "10/10 cal row", "10/10 calorie bike"]
    {
        assert_eq!(of(text), (each(10.0), false), "{text}");
    }
    assert_eq!(of("200/200 m run"), (each(200.0), false));
    assert_eq!(of("20/20 m suitcase carry"), (each(20.0), true));
}

#[test]
fn an_equal_pair_with_a_unit_behind_a_name_is_its_height_or_weight() {
    let lines = "stations 0:45 on / 0:15 off, 4 rounds\n";
    let of = |text: &str| match &read(&format!("{lines}{text}\nrow cal")).sheet.blocks[0].parts[0].items[0] {
        Item::Move(m) => m.clone(),
        other => panic!("{other:?}"),
    };
    for text in ["box step-overs 50/50 cm", "box jumps 50/50 cm", "box jumps 50/50cm"] {
        let m = of(text);
        assert_eq!((m.count, m.height_cm, m.per_side), (Some(Count::Max), Some([50.0; 2]), false), "{text}");
    }
    let m = of("dumbbell snatches 15/15 kg");
    assert!(matches!(m.load, Some(Load::Kg { kg: [15.0, 15.0], .. })) && !m.per_side, "{m:?}");
}

#[test]
fn a_mistyped_movement_is_mended_by_its_first_suggestion() {
    let text = "3 rounds for time\n12 power claens 60 kg";
    let p = first_error(text);
    assert_eq!((p.line, p.column, p.length), (2, 4, 12));
    assert!(p.message.starts_with("I do not know “power claens”. Did you mean power clean"), "{}", p.message);
    assert_eq!(p.apply(text, 0), "3 rounds for time\n12 power clean 60 kg");
}

#[test]
fn doubtful_lines_are_errors_at_their_place() {
    let at = |text: &str| {
        let p = first_error(text);
        (p.line, p.message.split('.').next().unwrap_or("").to_owned())
    };
    assert_eq!(at("# workout\nfor time\n10 push-ups\nrest").0, 4);
    assert_eq!(at("# workout\n3 rounds for time\n0 push-ups").1, "A count of 0 is no work");
    assert_eq!(at("# strength\nback squat 5 x 3 @ 900%").1, "900 % is more than anybody lifts");
    assert_eq!(at("# workout\nfor time\n10 thrusters -40 kg").1, "A load must be more than 0");
    assert_eq!(
        at("# workout cap 8:00 target 9:00-10:00\nfor time\n10 burpees").1,
        "The target ends after the cap of 8:00"
    );
    assert_eq!(at("# workout \"Grey\nfor time\n10 burpees").1, "The quotation mark is not closed");
    assert_eq!(at("date: soon\n3 rounds for time\n5 burpees").0, 1);
}

#[test]
fn heavy_pastes_end_with_a_plain_message() {
    let long = format!("# workout\n{}", "10 burpees, ".repeat(2000));
    assert!(read(&long).problems.iter().any(|p| p.message.contains("more than 2000 characters")));
    let prose = read(&"what a nice day it was\n".repeat(5000));
    assert_eq!(
        (prose.sheet.blocks.len(), prose.problems.len()),
        (0, 1),
        "prose is no session, and that is said once"
    );
    let many = format!("for time\n{}", "10 glorps\n".repeat(5000));
    let reading = read(&many);
    assert!(reading.problems.len() <= 301);
    assert!(
        reading.problems.last().unwrap().message.contains("more problems"),
        "{:?}",
        reading.problems.last()
    );
    let binary: String = (0..4000u32).map(|i| char::from((i * 37 % 256) as u8)).collect();
    let _ = read(&binary);
    assert_eq!(read("").problems[0].severity, Severity::Warning);
    assert_eq!(
        read(&"\n".repeat(12_000)).problems.iter().filter(|p| p.severity == Severity::Error).count(),
        1
    );
}

#[test]
fn dates_are_read_as_people_write_them() {
    let date =
        |t: &str| read(&format!("date: {t}\n3 rounds for time\n5 burpees")).sheet.date.map(|d| d.to_string());
    for t in [
        "2026-11-23",
        "23.11.2026",
        "23/11/2026",
        "Mon 23 Nov 2026",
        "November 23rd, 2026",
        "23 november 2026",
    ] {
        assert_eq!(date(t).as_deref(), Some("2026-11-23"), "{t}");
    }
}

fn kinds(text: &str) -> Vec<&'static str> {
    read(text).sheet.blocks.iter().map(|b| b.kind.word()).collect()
}

#[test]
fn a_slip_in_a_carrying_word_is_mended_and_no_more_is_made_of_prose() {
    assert_eq!(
        kinds("strenght\nback squat 5x5\nworkotu\n3 rouns for time\n10 burpees"),
        ["strength", "workout"]
    );
    assert_eq!(read("3 ruonds for time\n10 burpees").sheet.blocks[0].first().rounds(), 3);
    assert!(kinds("Ground rules: be kind, and leave the towels at home.").is_empty());
}

#[test]
fn bare_numbers_are_no_loads() {
    let load = |line: &str| {
        let r = read(&format!("# strength\n{line}\n# workout\nfor time\n10 burpees"));
        r.sheet.blocks[0].lifts.first().map(|l| l.kg)
    };
    for line in [
        "back squat 5 x 5 RPE 8",
        "back squat 3 x 5, rest 2 min",
        "back squat 5 x 3 (18 min)",
        "back squat 3 sets max",
    ] {
        assert_eq!(load(line).flatten(), None, "{line}");
    }
    assert_eq!(load("back squat 5 x 5 @ 80 kg"), Some(Some([80.0, 80.0])));
    let work = read("# workout cap 20\nfor time\n30 thrusters 18\n20 pull-ups").sheet;
    assert_eq!(work.blocks[0].moves().next().unwrap().load, None);
}

#[test]
fn a_bar_is_carried_and_says_from_where() {
    let r = read(
        "5 rounds for time\n12 deadlifts 70/47.5\n9 hang power cleans\n6 burpees\nrest 2:00\n20 deadlifts",
    );
    let of = |id: &str| -> Vec<LoadFrom> {
        r.sheet.blocks[0].moves().filter(|m| m.movement.id() == Some(id)).map(|m| m.load_from).collect()
    };
    assert_eq!(of("hang-power-clean"), [LoadFrom::Carried(2)], "one bar for the workout");
    assert_eq!(of("deadlift"), [LoadFrom::Written, LoadFrom::Carried(2)]);
    assert_eq!(of("burpee"), [LoadFrom::Written], "nothing to carry");
    let alone = read("amrap 10\n10 thrusters\n10 pull-ups").sheet;
    assert_eq!(alone.blocks[0].moves().next().unwrap().load_from, LoadFrom::Assumed);
    let two = read("for time\n10 thrusters 40/30\n10 deadlifts 100/70\n10 power cleans").sheet;
    let last = two.blocks[0].moves().last().unwrap();
    assert_eq!(
        (last.load.clone(), last.load_from),
        (None, LoadFrom::Assumed),
        "which of two bars is not guessed"
    );
}

#[test]
fn what_is_odd_is_said_at_its_line() {
    let said = |text: &str, line: u32, words: &str| {
        let r = read(text);
        assert!(
            r.problems.iter().any(|p| p.line == line && p.message.contains(words)),
            "{text}: {:?}",
            r.problems
        );
    };
    said("for time\n20 thrusters 30/42.5", 2, "lighter weight first");
    said("for time\n20 front squats 8 kg", 2, "far from what is usual");
    said("5 rounds, 4 min on / 1 min off, 30 min total\n500 m row\nmax burpees", 1, "do not add up");
    said("EMOM 10\nmin 1: 10 burpees\nmin 2: 12 sit-ups\nmin 3: 8 pull-ups", 1, "not divided");
    said("# warm-up\namrap 5\n5 burpees", 1, "scored on");
}

#[test]
fn a_suggestion_is_offered_only_where_it_helps() {
    let text = "for time\n10 burpes\n10 glorps of wonder";
    for p in read(text).problems {
        for i in 0..p.suggestions.len() {
            let after = read(&p.apply(text, i));
            assert!(after.problems.len() < read(text).problems.len(), "{p:?}");
        }
    }
    assert_eq!(first_error(text).suggestions.first().map(String::as_str), Some("burpee"));
}

#[test]
fn choices_and_units_of_a_hall_change_the_reading() {
    let text = "10 push-ups\n20 sit-ups\n\nAMRAP 9\n12 thrusters 45/30\n9 pull-ups";
    let with = ReadWith {
        choices: &[("10 push-ups".to_owned(), Chosen::Opens(BlockKind::WarmUp))],
        ..ReadWith::default()
    };
    let r = read_with(text, &with);
    assert_eq!(
        r.sheet.blocks.iter().map(|b| b.kind).collect::<Vec<_>>(),
        [BlockKind::WarmUp, BlockKind::Workout]
    );
    let pounds = read_with(text, &ReadWith { units: WeightUnit::Lb, ..ReadWith::default() });
    let load = pounds.sheet.blocks.last().unwrap().moves().find_map(|m| m.load.clone());
    assert_eq!(
        load,
        Some(Load::Kg { kg: [20.41, 13.61], implements: 1, typed: WeightUnit::Lb }),
        "45/30 lb by hand: 20.41/13.61 kg"
    );
}

#[test]
fn an_odd_number_by_side_is_asked_about_and_one_for_each_side_is_not() {
    let asked = |text: &str| {
        read(&format!("for time\n10 burpees\n{text}"))
            .problems
            .iter()
            .any(|p| p.message.contains("odd number"))
    };
    assert!(asked("21 split squats"));
    assert!(!asked("21/side split squats"));
    assert!(!asked("20 split squats"));
    assert!(!asked("21 sit-ups"));
}

#[test]
fn a_run_of_numbers_is_a_scheme_where_it_goes_one_way() {
    let scheme = |run: &str| match &read(&format!("for time\n{run}\nburpees\nsit-ups")).sheet.blocks[0].parts
        [0]
    .format
    {
        Some(Format::Scheme { reps }) => reps.clone(),
        _ => vec![],
    };
    assert_eq!(scheme("10 8 6 4 2"), vec![10, 8, 6, 4, 2]);
    assert_eq!(scheme("2 4 6 8 10"), vec![2, 4, 6, 8, 10]);
    assert_eq!(scheme("10 8 9 4 2"), Vec::<u32>::new());
}

#[test]
fn reps_at_a_percentage_are_one_set_each() {
    let lifts = read("# strength\nback squat\n3 @ 60%\n2 @ 70%\n1 @ 80%").sheet.blocks[0].lifts.clone();
    assert_eq!(lifts.len(), 1);
    assert_eq!(lifts[0].reps, vec![3, 2, 1]);
    assert_eq!(lifts[0].percent.as_ref().map(|p| p.values.clone()), Some(vec![60.0, 70.0, 80.0]));
}

#[test]
fn another_form_has_the_count_of_its_line_unless_it_says_its_own() {
    let count = |other: &str| one(&format!("30 pull-ups\nscaled: {other}")).others[0].line.count.clone();
    assert_eq!(count("ring row"), Some(Count::Each(30.0)));
    assert_eq!(count("20 ring rows"), Some(Count::Each(20.0)));
}

#[test]
fn a_time_in_the_cell_behind_a_heading_is_that_of_the_block() {
    let reading = read("Warm-up | 10' | bike + mobility\n# workout\nfor time\n50 burpees");
    let warm = &reading.sheet.blocks[0];
    assert_eq!((warm.kind, warm.duration_s), (BlockKind::WarmUp, Some(600)), "{reading:?}");
    assert!(warm.moves().all(|m| m.count.is_none()), "{warm:?}");
}

#[test]
fn another_form_of_sets_is_kept_in_words_and_said() {
    let reading = read("# strength\nback squat 5 x 3 @ 80%\nor goblet squat 3x8");
    let block = &reading.sheet.blocks[0];
    assert_eq!(block.lifts.len(), 1, "{block:?}");
    assert!(block.notes.iter().any(|n| n.contains("goblet squat 3x8")), "{block:?}");
    assert!(reading.problems.iter().any(|p| p.line == 3 && p.message.contains("other form of the sets")));
    assert_eq!(reading.lines.iter().find(|l| l.0 == 3).map(|l| l.1), Some(LineKind::Note));
}

#[test]
fn a_stand_in_that_no_line_needs_is_asked_about() {
    let asked = |text: &str| {
        let r = read(&format!("for time\n500 m row\n20 burpees\n{text}"));
        r.problems.iter().any(|p| p.line == 4 && p.message.contains("No line above needs"))
    };
    assert!(asked("no barbell: 20 sit-ups"));
    assert!(!asked("no rower: 400 m run"));
    assert!(!asked("home: 20 sit-ups"));
}

#[test]
fn each_answer_about_pounds_is_the_unit_that_it_writes() {
    let reading = read("21-15-9 for time\nthrusters 95/65\npull-ups");
    let p = reading.problems.iter().find(|p| p.asks.is_some()).unwrap();
    let asks = p.asks.unwrap();
    for (i, text) in p.suggestions.iter().enumerate() {
        assert!(text.ends_with(asks.unit(i).unwrap().word()), "{p:?}");
    }
    assert_eq!((p.suggestions.len(), asks.unit(2)), (2, None));
}

#[test]
fn more_sets_than_are_planned_are_said_and_never_cut_in_silence() {
    for text in [
        "# strength\nback squat 50 x 3 @ 70%",
        "# strength\npower snatch: every 0:30 x 60",
        "# strength\nclean + front squat\nevery 1:00 x 60",
    ] {
        let r = read(text);
        assert!(r.problems.iter().any(|p| p.message.contains("at most 40 sets")), "{text}: {:?}", r.problems);
    }
    assert!(!read("# strength\nback squat 10 x 3 @ 70%").has_errors());
}

#[test]
fn a_list_for_those_without_kit_stands_in_line_by_line() {
    let r = read(
        "3 rounds for time\n500m row\n10 thrusters 40/30\n\nat home:\n400m run\n10 db thrusters\n12 burpees",
    );
    let block = &r.sheet.blocks[0];
    let home: Vec<_> = block
        .moves()
        .map(|m| m.without_kit.iter().map(|(k, l)| (k.as_str(), l.movement.id())).collect::<Vec<_>>())
        .collect();
    assert_eq!(home, [[("home", Some("run"))], [("home", Some("db-thruster"))]]);
    // the third has nothing to stand in for
    assert!(r.problems.iter().any(|p| p.line == 8 && p.message.contains("no line left")), "{:?}", r.problems);
    // a question mark asks for the same as a colon; what is no kit is an option of its line
    let r = read(
        "3 rounds for time\n10 cal row\nno rower? 200m run\n5 ring muscle-ups\nno muscle-ups: 15 ring dips",
    );
    let lines: Vec<&MoveLine> = r.sheet.blocks[0].moves().collect();
    assert_eq!((lines.len(), lines[0].without_kit.len(), lines[1].others.len()), (2, 1, 1), "{r:?}");
}

#[test]
fn shares_of_a_maximum_are_heard_wherever_they_stand() {
    let of = |text: &str| read(text).sheet.blocks[0].clone();
    let press = of("strict press\n5 x 65%\n5 x 75%\n5+ x 85%");
    assert_eq!(press.lifts[0].reps, [5, 5, 5]);
    assert_eq!(press.lifts[0].percent.as_ref().map(|p| p.values.clone()), Some(vec![65.0, 75.0, 85.0]));
    let cleans = of("Every 90s x 8: 2 power cleans + 1 push jerk, start at 65%");
    let loads: Vec<_> = cleans.moves().map(|m| m.load.clone()).collect();
    let percent = Some(Load::Percent { percent: 65.0, of: PercentBase::Unsaid });
    assert_eq!(loads, [percent.clone(), percent]);
}

#[test]
fn a_tempo_without_dashes_is_no_number_of_sets() {
    let b = read("# strength\ntempo back squat 32X1, 4x5 @ 65%").sheet.blocks[0].clone();
    assert_eq!((b.lifts.len(), b.lifts[0].reps.as_slice()), (1, [5, 5, 5, 5].as_slice()));
    assert_eq!(b.lifts[0].tempo, Some(Tempo([3, 2, 0, 1])));
    assert_eq!(read("# strength\nback squat 10x3 @ 65%").sheet.blocks[0].lifts[0].reps, [3; 10]);
}

#[test]
fn a_chain_above_its_clock_is_one_of_each() {
    let b = read("STRENGTH\nClean + FS + push jerk\nEvery 2' x 7 building").sheet.blocks[0].clone();
    let l = &b.lifts[0];
    assert_eq!((l.reps.as_slice(), l.every_s, l.climb), ([1; 7].as_slice(), Some(120), true));
    let chain = [("front-squat".to_owned(), 1), ("push-jerk".to_owned(), 1)];
    assert_eq!(l.chain, chain);
}

#[test]
fn rests_have_the_longer_of_two_times_and_no_body_weights() {
    let rest = |text: &str| read(&format!("# strength\n{text}")).sheet.blocks[0].lifts[0].rest_s;
    assert_eq!(rest("back squat 3x8, 2-3 min between sets"), Some(180));
    assert_eq!(rest("back squat 3x8, 90 s rest"), Some(90));
    // `0.75 bw` was a rest of 0:45
    let r = read("5 rounds for time\n10 bench 0.75 bw\n10 burpees");
    assert!(r.sheet.blocks[0].first().items.iter().all(|i| matches!(i, Item::Move(_))), "{r:?}");
}

#[test]
fn minutes_of_the_class_are_lengths_of_parts() {
    let r = read(
        "0:00-10:00 warm up\n10:00-25:00 power clean, find a heavy double\n30:00-45:00 15 min amrap: 5 burpees, 10 sit-ups",
    );
    let b = &r.sheet.blocks;
    assert_eq!(
        (b[0].duration_s, b[1].builds[0].window_s, b[2].duration_s),
        (Some(600), Some(900), Some(900))
    );
}

#[test]
fn other_forms_of_a_line_keep_their_own_numbers() {
    let r = read(
        "50-40-30 for time\ndouble unders\nsit-ups\nLevel 2: single unders x2\nLevel 1: single unders, 25-20-15 sit-ups",
    );
    let lines: Vec<&MoveLine> = r.sheet.blocks[0].moves().collect();
    let counts = |m: &MoveLine| m.others.iter().map(|o| o.line.count.clone()).collect::<Vec<_>>();
    assert_eq!(counts(lines[0]), [Some(Count::Scheme(vec![100, 80, 60])), None]);
    assert_eq!(counts(lines[1]), [Some(Count::Scheme(vec![25, 20, 15]))]);
    // an option inside a minute belongs to that minute's line
    let r = read("12 min EMOM\nodd: 3 ring muscle-ups (or 6 C2B)\neven: 30s hollow hold");
    let lines: Vec<&MoveLine> = r.sheet.blocks[0].moves().collect();
    assert_eq!((lines.len(), lines[0].others.len()), (2, 1), "{r:?}");
}

#[test]
fn levels_of_a_lift_are_forms_of_its_sets_and_the_highest_is_written() {
    let text = "Back squat\nL1: goblet squat 3x8\nL3: 5x3 @ 80%\nL2: 5x5 @ 70%\n\n12 min AMRAP\n10 row cals";
    let r = read(text);
    assert!(r.problems.is_empty(), "{:?}", r.problems);
    let lift = &r.sheet.blocks[0].lifts[0];
    assert_eq!((lift.movement.id(), lift.reps.as_slice()), (Some("back-squat"), &[3; 5][..]));
    let forms: Vec<_> =
        lift.forms.iter().map(|f| (f.level, f.sets.movement.id().unwrap(), f.sets.reps.clone())).collect();
    assert_eq!(forms, [(2, "back-squat", vec![5; 5]), (1, "goblet-squat", vec![8; 3])]);
    // with the sets first, a level below them stands beside them
    let below = read("# strength\nback squat 5 x 3 @ 80%\nbeginners: 3 x 5 @ 60%").sheet;
    let lift = &below.blocks[0].lifts[0];
    assert_eq!((lift.reps.len(), lift.forms[0].sets.percent.as_ref().unwrap().most()), (5, Some(60.0)));
    // a second highest level is no form for those below it
    let twice = read("# strength\nback squat 5 x 3 @ 80%\nRx: 5 x 5 @ 85%");
    assert!(twice.sheet.blocks[0].lifts[0].forms.is_empty());
    assert!(twice.problems.iter().any(|p| p.line == 3 && p.message.contains("other form of the sets")));
    // and both are printed so that they are read again
    assert!(
        print(&below).contains("back squat 5 x 3 @ 80%\nL1: back squat 3 x 5 @ 60%\n"),
        "{}",
        print(&below)
    );
    assert_eq!(print(&read(&print(&below)).sheet), print(&below));
}

#[test]
fn each_set_may_have_a_band_of_its_own() {
    let percent = |text: &str| read(text).sheet.blocks[0].lifts[0].percent.clone().unwrap();
    let p = percent("# strength\nback squat 5-5-3 @ 60-65%, 70-75%, 75-80%");
    assert_eq!(p.ends(3), [[60.0, 65.0], [70.0, 75.0], [75.0, 80.0]]);
    assert_eq!((p.words().as_str(), p.most()), ("60 to 65, 70 to 75, 75 to 80", Some(80.0)));
    let down = percent("Strength\nfront squat\n5 @ 60-65%\n4 @ 75%\n3 @ 80-85%");
    assert_eq!(down.ends(3), [[60.0, 65.0], [75.0, 75.0], [80.0, 85.0]]);
    assert_eq!(down.words(), "60 to 65, 75, 80 to 85");
    // one band for all stays one
    assert_eq!(percent("# strength\nback squat 5 x 3 @ 78-82%").ends(2), [[78.0, 82.0]; 2]);
}

#[test]
fn a_list_below_several_windows_is_done_in_each() {
    for text in [
        "AMRAP 3 / rest 1 / AMRAP 5\n10 burpees\n12 sit-ups",
        "AMRAP 3\nrest 1\nAMRAP 5\n10 burpees\n12 sit-ups",
    ] {
        let r = read(text);
        assert!(r.problems.is_empty(), "{:?}", r.problems);
        let parts: Vec<_> =
            r.sheet.blocks[0].parts.iter().map(|p| (p.rest_s, p.format.clone(), p.items.len())).collect();
        let amrap = |seconds| Some(Format::Amrap { seconds });
        assert_eq!(parts, [(0, amrap(180), 2), (60, amrap(300), 2)]);
    }
}

#[test]
fn words_behind_sets_are_kept_with_them() {
    let lift = read("Strength\nBack squat 4x6 light, no belt").sheet.blocks[0].lifts[0].clone();
    assert_eq!(lift.note.as_deref(), Some("light, no belt"));
}

#[test]
fn what_a_lifts_own_line_says_holds_for_the_sets_below_it() {
    let lift = |text: &str| {
        let r = read(text);
        assert!(r.problems.is_empty(), "{text}: {:?}", r.problems);
        r.sheet.blocks[0].lifts[0].clone()
    };
    let l = lift("Deadlift, every 2:30\n5x3 @ 75-80%\n\nAMRAP 5\n10 burpees");
    assert_eq!((l.every_s, l.reps.len(), l.percent.unwrap().most()), (Some(150), 5, Some(80.0)));
    let l = lift("Back squat @ 75%, rest 3:00\n5x3\n\nAMRAP 5\n10 burpees");
    assert_eq!((l.rest_s, l.percent.unwrap().most()), (Some(180), Some(75.0)));
    let l = lift("Deadlift, every 2:30\nL2: 5x5 @ 70%\nL3: 5x3 @ 80%\n\nAMRAP 5\n10 burpees");
    assert_eq!((l.every_s, l.forms[0].sets.every_s, l.reps[0]), (Some(150), Some(150), 3));
    // the next lift has its own
    let two = read("Deadlift, every 2:30\n5x3 @ 75%\nBench press\n3x8").sheet;
    assert_eq!(two.blocks[0].lifts.iter().map(|l| l.every_s).collect::<Vec<_>>(), [Some(150), None]);
}

#[test]
fn work_that_no_class_can_do_is_said() {
    let warned = |text: &str| {
        read(text)
            .problems
            .iter()
            .find(|p| p.message.contains("a rep a second"))
            .map(|p| (p.line, p.message.clone()))
    };
    let text = "# workout cap 20:00\n1000 rounds for time\n10 burpees\n12 sit-ups\n200 m run";
    // 10 + 12 + 33 s, a thousand times
    assert_eq!(
        warned(text),
        Some((
            1,
            "1000 rounds of this list take over 15 hours at a rep a second. Check the numbers.".to_owned()
        ))
    );
    assert!(warned("# workout\nfor time\n9000 double-unders").is_some());
    // long, and meant
    assert_eq!(warned("# workout\nfor time\n42000 m row"), None);
    assert_eq!(warned("# workout cap 60:00\n50 rounds for time\n10 burpees\n20 sit-ups"), None);
}
