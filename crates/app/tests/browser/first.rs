//! From an empty database to the first plan, as somebody does it who has only the terminal's code.

use crate::driver::{Browser, free_port, listens};
use crate::page::{click, text, until};
use fantoccini::{Client, Locator};
use lantern_store::testing::TestDatabase;
use std::io::{BufRead, BufReader};
use std::process::{Child, Command, Stdio};
use totp_rs::{Algorithm, Secret, TOTP};

const PASSWORD: &str = "four oars and a kettle";

/// A server on an empty database, and the code that it prints.
struct Empty {
    server: Child,
    port: u16,
    code: String,
    secret: std::path::PathBuf,
    _database: TestDatabase,
}

impl Empty {
    async fn open() -> Empty {
        let database = TestDatabase::new();
        let port = free_port();
        let secret = std::env::temp_dir().join(format!("honest-lantern-first-{}-{port}", std::process::id()));
        let mut server = Command::new(env!("CARGO_BIN_EXE_honest-lantern"))
            .args(["serve", "--listen", &format!("127.0.0.1:{port}"), "--database-url", database.url()])
            .arg("--secret-file")
            .arg(&secret)
            .stdout(Stdio::piped())
            .stderr(Stdio::null())
            .spawn()
            .unwrap();
        let mut line = String::new();
        BufReader::new(server.stdout.take().unwrap()).read_line(&mut line).unwrap();
        let code = line.trim().rsplit(' ').next().unwrap().to_owned();
        assert!(line.contains("/set-up") && code.len() == 9, "{line}");
        listens(port).await;
        Empty { server, port, code, secret, _database: database }
    }

    fn url(&self, path: &str) -> String {
        format!("http://127.0.0.1:{}{path}", self.port)
    }
}

impl Drop for Empty {
    fn drop(&mut self) {
        let _ = self.server.kill();
        let _ = self.server.wait();
        let _ = std::fs::remove_file(&self.secret);
    }
}

async fn fill(c: &Client, id: &str, value: &str) {
    let field = c.wait().for_element(Locator::Id(id)).await.unwrap_or_else(|_| panic!("no {id}"));
    field.clear().await.unwrap();
    field.send_keys(value).await.unwrap();
}

#[tokio::test]
async fn a_hall_begins_with_nothing_and_plans_its_first_class() {
    let hall = Empty::open().await;
    let browser = Browser::start(1280, 900).await;
    let c = &browser.client;
    c.goto(&hall.url("/")).await.unwrap();
    until(c, "h1", "Set up your hall").await;
    for (id, value) in [
        ("code", hall.code.as_str()),
        ("hall", "Slipway"),
        ("place", "Port Ellery"),
        ("name", "Ines V."),
        ("email", "ines@slipway.example"),
        ("password", PASSWORD),
    ] {
        fill(c, id, value).await;
    }
    click(c, "#found").await;
    until(c, "h1", "Begin").await;
    // a coach is invited, and joins in a browser of their own
    c.goto(&hall.url("/people")).await.unwrap();
    fill(c, "name", "Tam O.").await;
    fill(c, "email", "tam@slipway.example").await;
    click(c, "#invite").await;
    let link = c.wait().for_element(Locator::Id("made")).await.unwrap().prop("value").await.unwrap().unwrap();
    let other = Browser::start(1280, 800).await;
    other.client.goto(&link).await.unwrap();
    fill(&other.client, "password", "a tide of my own").await;
    fill(&other.client, "again", "a tide of my own").await;
    click(&other.client, "form button").await;
    until(&other.client, "h1", "Classes").await;
    // members from a table with two bad cells: both are named before anybody is added
    c.goto(&hall.url("/members/roster")).await.unwrap();
    let table = "name,standard,level,body_mass_kg,max:back squat\nAda V.,lighter,seasoned,61.5,92.5x3\nBruno D.,heavier,regular,fat,140\nCela R.,lighter,newish,,\n";
    fill(c, "text", table).await;
    click(c, "#preview").await;
    until(c, ".hl-problems", "line 3, body_mass_kg").await;
    until(c, ".hl-problems", "line 4, level").await;
    click(c, "#add").await;
    until(c, "#main", "3 members added").await;
    let sheet_page = first_week(&hall, c).await;
    c.goto(&hall.url(&sheet_page)).await.unwrap();
    let sheet = "Back squat\n5x3 @ 75%\n\n12 min AMRAP\n10 burpees\n12 kb swings 24/16";
    fill(c, "sheet", sheet).await;
    click(c, "#save").await;
    until(c, "h1", "The hour").await;
    let steps = c.find(Locator::Css("#steps")).await.unwrap();
    assert!(steps.text().await.unwrap().contains("3 members"));
    // every step of a new hall is done but the kit, which nobody has gone through
    c.goto(&hall.url("/start")).await.unwrap();
    let begin = text(c, "#main").await;
    assert!(begin.contains("3 members") && begin.contains("1 sheet"), "{begin}");
    assert_eq!(c.find_all(Locator::Css(".hl-begin .is-done")).await.unwrap().len(), 4);
    with_a_second_factor(&hall, c).await;
}

/// The code that an app shows some half minutes from now.
fn code(secret: &str, later: u64) -> String {
    let secret = Secret::Encoded(secret.replace(' ', "")).to_bytes().unwrap();
    let app = TOTP::new(Algorithm::SHA1, 6, 1, 30, secret, None, "x".into()).unwrap();
    let now = std::time::SystemTime::now().duration_since(std::time::UNIX_EPOCH).unwrap().as_secs();
    app.generate(now + 30 * later)
}

/// The owner sets up a second factor, signs out, and comes in again by password and code.
async fn with_a_second_factor(hall: &Empty, c: &Client) {
    c.goto(&hall.url("/own/second")).await.unwrap();
    click(c, "#begin").await;
    let secret = text(c, "#secret").await;
    fill(c, "code", &code(&secret, 0)).await;
    click(c, "#prove").await;
    until(c, "#main", "Codes for when you lose the app").await;
    click(c, "form[action='/sign-out'] button").await;
    fill(c, "email", "ines@slipway.example").await;
    fill(c, "password", PASSWORD).await;
    click(c, "main form button").await;
    // the password alone opens nothing
    fill(c, "code", "000000").await;
    click(c, "main form button").await;
    until(c, "#main", "This code does not count").await;
    fill(c, "code", &code(&secret, 1)).await;
    click(c, "main form button").await;
    until(c, "h1", "Classes").await;
}

/// The week from the timetable: a class of every week, made for tomorrow, with everybody booked. The address of its sheet.
async fn first_week(hall: &Empty, c: &Client) -> String {
    let tomorrow = chrono::Local::now().date_naive() + chrono::Duration::days(1);
    c.goto(&hall.url("/timetable")).await.unwrap();
    let choose = format!("document.querySelector('#day').value = '{}'", tomorrow.format("%A"));
    c.wait().for_element(Locator::Id("day")).await.unwrap();
    c.execute(&choose, Vec::new()).await.unwrap();
    c.execute("document.querySelector('#at').value = '18:00'", Vec::new()).await.unwrap();
    fill(c, "places", "12").await;
    click(c, "#add").await;
    until(c, "#main", "18:00").await;
    c.goto(&hall.url(&format!("/classes?week={tomorrow}"))).await.unwrap();
    click(c, "#make-week").await;
    until(c, ".hl-week", "0 of 12").await;
    let class = c.find(Locator::Css(".hl-week a[href$='/sheet']")).await.unwrap();
    let sheet_page = class.attr("href").await.unwrap().unwrap();
    c.goto(&hall.url(&sheet_page.replace("/sheet", "/bookings"))).await.unwrap();
    click(c, "[data-ticks=all]").await;
    click(c, "#book").await;
    until(c, "#main", "3 of 12 places").await;
    sheet_page
}
