//! The commands that need no database, as a shell calls them.
#![allow(clippy::unwrap_used, clippy::panic, clippy::indexing_slicing)] // a test may fail loudly

use std::io::Write;
use std::process::{Command, Output, Stdio};

fn run(args: &[&str], stdin: &[u8]) -> Output {
    let mut child = Command::new(env!("CARGO_BIN_EXE_honest-lantern"))
        .args(args)
        .stdin(Stdio::piped())
        .stdout(Stdio::piped())
        .stderr(Stdio::piped())
        .spawn()
        .unwrap();
    child.stdin.take().unwrap().write_all(stdin).unwrap();
    child.wait_with_output().unwrap()
}

fn out(o: &Output) -> String {
    String::from_utf8_lossy(&o.stdout).into_owned()
}

fn err(o: &Output) -> String {
    String::from_utf8_lossy(&o.stderr).into_owned()
}

const SHEET: &[u8] = b"# workout \"Quay\" cap 12:00 target 7:00-10:00\n3 rounds for time\n10 burpees\n12 power clean 50/35 kg\n200 m run";

#[test]
fn read_answers_with_json_and_editors_problems() {
    let good = run(&["read", "-", "--format", "json"], SHEET);
    assert_eq!(good.status.code(), Some(0));
    let v: serde_json::Value = serde_json::from_str(&out(&good)).unwrap();
    assert_eq!(
        (v["blocks"][0]["format"].as_str(), v["blocks"][0]["cap_s"].as_u64()),
        (Some("rounds-for-time"), Some(720))
    );
    let bad = run(&["read", "-"], b"# workout\nfor time\n10 power claens");
    assert_eq!(bad.status.code(), Some(1));
    assert!(err(&bad).contains("-:3:4: error: I do not know"), "{}", err(&bad));
    assert_eq!(run(&["read", "/no/such/sheet"], b"").status.code(), Some(2));
}

#[test]
fn a_printed_sheet_reads_as_the_same() {
    let first = run(&["read", "-"], SHEET);
    let again = run(&["read", "-"], &first.stdout);
    assert_eq!(out(&first), out(&again));
}

#[test]
fn plan_gives_the_open_format_and_the_same_bytes_twice() {
    let args = ["plan", "-", "--archetypes", "--format", "json", "--runs", "40", "--date", "2026-11-24"];
    let one = run(&args, SHEET);
    assert_eq!(one.status.code(), Some(0), "{}", err(&one));
    assert_eq!(out(&one), out(&run(&args, SHEET)));
    let v: serde_json::Value = serde_json::from_str(&out(&one)).unwrap();
    assert_eq!(v["schema"], "lantern-plan/1");
    assert_eq!((v["members"].as_array().unwrap().len(), v["versions"].as_array().unwrap().len()), (8, 3));
    let m = &v["members"][2];
    assert_eq!(m["name"], "regular heavier");
    let p = &m["predictions"][0];
    assert!(p["p10"].as_f64() <= p["p50"].as_f64() && p["p50"].as_f64() <= p["p90"].as_f64());
    assert_eq!(m["splits_s"][0].as_array().unwrap().len(), 3);
}

#[test]
fn plan_as_written_leaves_everybody_at_full() {
    let o = run(&["plan", "-", "--archetypes", "--as-written", "--format", "json", "--runs", "20"], SHEET);
    let v: serde_json::Value = serde_json::from_str(&out(&o)).unwrap();
    assert!(v["members"].as_array().unwrap().iter().all(|m| m["tier"] == "full"));
}

#[test]
fn plan_says_what_it_needs() {
    let o = run(&["plan", "-"], SHEET);
    assert_eq!(o.status.code(), Some(2));
    assert!(err(&o).contains("--roster FILE.csv, or --archetypes"), "{}", err(&o));
    let binary: Vec<u8> = (0..5000u32).map(|i| (i * 37 % 256) as u8).collect();
    let o = run(&["plan", "-", "--archetypes", "--runs", "5"], &binary);
    assert_ne!(o.status.code(), None);
    assert!(!err(&o).contains("panicked"), "{}", err(&o));
}

#[test]
fn simulate_runs_once_and_traces_the_clock() {
    let simulate =
        |args: &[&str]| run(&[&["simulate", "-", "--member", "regular heavier"], args].concat(), SHEET);
    let even = out(&simulate(&[]));
    assert!(even.starts_with("Quay: ") && even.contains(" sets; ") && even.contains(" of changes"), "{even}");
    let singles = out(&simulate(&["--strategy", "singles"]));
    assert!(
        singles.contains(" in 42 sets; "),
        "36 cleans one at a time, three sets of burpees and three runs: {singles}"
    );
    let trace = out(&simulate(&["--trace"]));
    let rows: Vec<Vec<&str>> = trace.lines().map(|l| l.split(',').collect()).collect();
    assert_eq!(rows[0].join(","), "block,from_s,to_s,what,round,line,movement,units,unit");
    let sum = |movement: &str| -> f64 {
        rows.iter().filter(|r| r[3] == "work" && r[6] == movement).map(|r| r[7].parse::<f64>().unwrap()).sum()
    };
    assert_eq!((sum("burpee"), sum("power-clean"), sum("run")), (30.0, 36.0, 600.0));
    for pair in rows[1..].windows(2) {
        assert_eq!(pair[0][2], pair[1][1], "one stretch follows another: {pair:?}");
    }
    assert_eq!(trace, out(&simulate(&["--trace"])), "the same bytes");
    let nobody = run(&["simulate", "-", "--member", "somebody"], SHEET);
    assert_eq!(nobody.status.code(), Some(2));
    assert!(err(&nobody).contains("There are: new heavier"), "{}", err(&nobody));
    assert!(err(&simulate(&["--strategy", "fast"])).contains("sets:8-7"));
    let lifts = run(&["simulate", "-", "--member", "new lighter"], b"# strength\nback squat 5x5 @ 75%");
    assert!(err(&lifts).contains("no workout on a clock"), "{}", err(&lifts));
}

/// Halls in a shell, against a database of the test server.
#[test]
fn halls_are_added_listed_and_removed_in_a_shell() {
    let db = lantern_store::testing::TestDatabase::new();
    let hall = |args: &[&str], stdin: &[u8]| {
        let mut all = vec!["hall", "--database-url", db.url()];
        all.extend(args);
        run(&all, stdin)
    };
    assert!(out(&hall(&["list"], b"")).contains("There is no hall"));
    let add = [
        "add",
        "Slipway",
        "--place",
        "Port Ellery",
        "--email",
        "ines@slipway.example",
        "--owner",
        "Ines",
        "--kit",
        "small",
    ];
    let weak = hall(&add, b"short\n");
    assert!(weak.status.code() == Some(2) && err(&weak).contains("at least 12 characters"), "{}", err(&weak));
    assert_eq!(hall(&add, b"four oars and a kettle\n").status.code(), Some(0));
    let listed = out(&hall(&["list"], b""));
    assert!(listed.contains("Slipway, Port Ellery: 0 members, 0 classes"), "{listed}");
    let again = hall(&add, b"four oars and a kettle\n");
    assert!(err(&again).contains("a hall called Slipway is there already"), "{}", err(&again));
    assert!(err(&hall(&["remove", "Quay"], b"")).contains("there is no hall “Quay”"));
    // nothing goes without a yes
    assert!(out(&hall(&["remove", "Slipway"], b"")).contains("Say it again with --yes"));
    assert!(out(&hall(&["list"], b"")).contains("Slipway"));
    assert!(out(&hall(&["remove", "Slipway", "--yes"], b"")).contains("Removed"));
    assert!(out(&hall(&["list"], b"")).contains("There is no hall"));
}

/// The rehearsal: everything out into a file, the database lost, everything back.
#[test]
fn a_copy_brings_everything_back() {
    use lantern_store::{testing::TestDatabase, whole};
    let (lost, fresh) = (TestDatabase::new(), TestDatabase::new());
    let dir = std::env::temp_dir().join(format!("hl-copy-{}", std::process::id()));
    std::fs::create_dir_all(&dir).unwrap();
    let file = dir.join("halls.copy");
    let file = file.to_str().unwrap();
    let of = |what: &str, db: &TestDatabase, file: &str| run(&[what, "--database-url", db.url(), file], b"");
    let demo = run(&["demo", "--database-url", lost.url()], b"");
    assert_eq!(demo.status.code(), Some(0), "{}", err(&demo));
    let before = whole::rows(&mut lost.conn()).unwrap();
    assert!(before["members"] > 20 && before["results"] > 100 && before.len() > 20, "{before:?}");
    let kept = of("backup", &lost, file);
    assert!(
        out(&kept).starts_with("Kept in ") && out(&kept).contains("halls: 1, members: 24"),
        "{}",
        err(&kept)
    );
    assert!(!std::path::Path::new(&format!("{file}.part")).exists());
    let mode = std::os::unix::fs::PermissionsExt::mode(&std::fs::metadata(file).unwrap().permissions());
    assert_eq!(mode & 0o777, 0o600, "limits and hashes are for whoever made it alone");
    assert!(err(&of("backup", &lost, file)).contains("no copy is written over"));
    // nothing is written over halls that are there
    let over = of("restore", &lost, file);
    assert!(
        over.status.code() == Some(2) && err(&over).contains("there are halls in this database"),
        "{}",
        err(&over)
    );
    assert_eq!(whole::rows(&mut lost.conn()).unwrap(), before);
    // what is no copy, or half of one, changes nothing
    let whole_file = std::fs::read(file).unwrap();
    for (name, bytes) in [("none", &b"not a copy"[..]), ("half", &whole_file[..whole_file.len() / 2])] {
        let path = dir.join(name);
        std::fs::write(&path, bytes).unwrap();
        let bad = of("restore", &fresh, path.to_str().unwrap());
        assert_eq!(bad.status.code(), Some(2), "{name}: {}", out(&bad));
        let rows = whole::rows(&mut fresh.conn()).unwrap();
        assert!(rows["gyms"] == 0 && rows.len() == before.len(), "{name}: {rows:?}");
    }
    drop(lost);
    let back = of("restore", &fresh, file);
    assert!(out(&back).contains("halls: 1, members: 24"), "{}", err(&back));
    assert_eq!(whole::rows(&mut fresh.conn()).unwrap(), before);
    // and it is a hall that can be signed in to
    let mut conn = fresh.conn();
    assert!(!lantern_store::unknown_schema(&mut conn).unwrap());
    assert!(
        lantern_store::account::check(&mut conn, "ines@ropewalk.example", "lantern-demo").unwrap().is_some()
    );
    std::fs::remove_dir_all(&dir).unwrap();
}

/// One hall out into a file and into another server, beside a hall that is there.
#[test]
fn a_hall_is_carried_to_another_server_whole_or_not_at_all() {
    use lantern_store::{account, gym, record, testing::TestDatabase, whole};
    let (from, to) = (TestDatabase::new(), TestDatabase::new());
    let dir = std::env::temp_dir().join(format!("hl-carry-{}", std::process::id()));
    std::fs::create_dir_all(&dir).unwrap();
    let path = |name: &str| dir.join(name).to_str().unwrap().to_owned();
    let hall = |db: &TestDatabase, args: &[&str], stdin: &[u8]| {
        let mut all = vec!["hall", "--database-url", db.url()];
        all.extend(args);
        run(&all, stdin)
    };
    assert_eq!(run(&["demo", "--database-url", from.url()], b"").status.code(), Some(0));
    let file = path("ropewalk.hall");
    let written = hall(&from, &["export", "Ropewalk Hall", "--to", &file], b"");
    assert!(out(&written).contains("Members' limits are among them"), "{}", err(&written));
    assert!(
        err(&hall(&from, &["export", "Ropewalk Hall", "--to", &file], b"")).contains("Name another file")
    );
    let mode = std::os::unix::fs::PermissionsExt::mode(&std::fs::metadata(&file).unwrap().permissions());
    assert_eq!(mode & 0o777, 0o600);
    let text = std::fs::read_to_string(&file).unwrap();
    assert!(text.lines().next().unwrap().contains("keep it like a medical record"));
    assert!(text.contains("\"table\":\"limits\"") && !text.contains("\"table\":\"sign_ins\""));
    // a hall is there already on the other server; it is not touched
    let add = ["add", "Slipway", "--email", "t@slipway.example", "--owner", "Tam"];
    assert_eq!(hall(&to, &add, b"four oars and a kettle").status.code(), Some(0));
    // what is none, half of one, of another version, or of several halls, changes nothing
    let other = text.lines().nth(40).unwrap().replace("\"gym_id\":\"0", "\"gym_id\":\"f");
    let lines: Vec<&str> = text.lines().collect();
    for (name, bytes, words) in [
        ("none", "not a hall".to_owned(), "this file is no hall"),
        ("half", text[..text.len() / 2].to_owned(), "is no row"),
        ("version", text.replacen("\"schema\":\"", "\"schema\":\"9", 1), "the database of"),
        ("several", format!("{}\n{other}\n", lines[..60].join("\n")), "is of another hall"),
        ("table", format!("{}\n{{\"table\":\"pg_class\",\"row\":{{}}}}\n", lines[0]), "is of another hall"),
    ] {
        std::fs::write(path(name), bytes).unwrap();
        let bad = hall(&to, &["import", &path(name)], b"");
        assert!(bad.status.code() == Some(2) && err(&bad).contains(words), "{name}: {}", err(&bad));
        assert_eq!(gym::list(&mut to.conn()).unwrap().len(), 1, "{name}");
    }
    let read = hall(&to, &["import", &file], b"");
    assert!(out(&read).starts_with("Ropewalk Hall is there: "), "{}", err(&read));
    let again = hall(&to, &["import", &file], b"");
    assert!(err(&again).contains("in this database already"), "{}", err(&again));
    // everything came: written again it is the same, and what is counted from the results is counted the same
    let back = path("back.hall");
    hall(&to, &["export", "Ropewalk Hall", "--to", &back], b"");
    assert!(std::fs::read_to_string(&back).unwrap() == text, "the two files differ");
    let counted = |db: &TestDatabase| {
        let rows = whole::rows(&mut db.conn()).unwrap();
        (rows["member_days"], rows["log_days"], rows["results"])
    };
    assert_eq!(counted(&from), counted(&to));
    let (mut a, mut b) = (from.conn(), to.conn());
    let id = gym::find_demo(&mut a).unwrap().unwrap();
    let today = chrono::Utc::now().date_naive();
    let of = |conn: &mut lantern_store::PlainConnection| {
        let c = record::counted(conn, id, today, 20).unwrap();
        (c.members, c.slots, c.classes, c.latest)
    };
    assert_eq!(of(&mut a), of(&mut b));
    assert!(account::check(&mut b, "ines@ropewalk.example", "lantern-demo").unwrap().is_some());
    std::fs::remove_dir_all(&dir).unwrap();
}

/// No table of a hall is forgotten when it is carried.
#[test]
fn every_table_of_a_hall_is_carried_or_left_on_purpose() {
    use lantern_store::{carry, testing::TestDatabase, whole};
    let db = TestDatabase::new();
    let ours = ["__diesel_schema_migrations", "tries"];
    let all: Vec<String> =
        whole::rows(&mut db.conn()).unwrap().into_keys().filter(|t| !ours.contains(&t.as_str())).collect();
    let mut known: Vec<&str> = carry::TABLES.iter().chain(&carry::LEFT).copied().collect();
    known.sort_unstable();
    assert_eq!(all, known);
}
