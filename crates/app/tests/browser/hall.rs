//! A hall with two members and an empty class, served on a port of its own with a database of its own.

use crate::driver::{free_port, listens};
use chrono::{TimeDelta, Utc};
use fantoccini::{Client, Locator};
use lantern_core::hour::Press;
use lantern_core::kit::Kit;
use lantern_core::pacing::Level;
use lantern_core::roster::{Best, Max, Member, Trial};
use lantern_core::units::Standard;
use lantern_store::account::Role;
use lantern_store::class::NewClass;
use lantern_store::testing::{TestDatabase, run_ahead, set_sheet, sign_everybody_out};
use lantern_store::{
    ClassId, GymId, MemberId, account, booking, class, clock, decision, gym, kit, logbook, roster, sheet,
};
use std::process::{Child, Command, Stdio};

/// All invented; the first two come to every class, the letters before the third differ.
const NAMES: [&str; 20] = [
    "Alva K.", "Bruno D.", "Cela R.", "Dorn V.", "Esmo L.", "Fenna P.", "Gert O.", "Hilde M.", "Ivar S.",
    "Jorun T.", "Kaia B.", "Lorne W.", "Mirel F.", "Nadia G.", "Orsk H.", "Pella J.", "Quill N.", "Runa C.",
    "Sten Z.", "Tova E.",
];

/// A served hall, ended with the value.
pub struct Hall {
    server: Child,
    port: u16,
    database: TestDatabase,
    gym: GymId,
    secret: std::path::PathBuf,
    /// Its one class.
    pub class: ClassId,
    /// Its members.
    pub members: Vec<MemberId>,
}

fn member(name: &str, standard: Standard, squat: f64, clean: f64, row: f64) -> Member {
    let mut m = Member::unknown(name, standard, Level::Seasoned);
    let max = |lift: &str, kg| Max { lift: lift.to_owned(), kg, reps: 1, reserve: 0, date: None };
    m.maxes = vec![max("front-squat", squat), max("power-clean", clean)];
    m.unbroken = vec![Best { movement: "toes-to-bar".to_owned(), reps: 16.0, date: None }];
    m.trials = vec![Trial { test: "row-2000".to_owned(), seconds: row, date: None }];
    m
}

impl Hall {
    /// Its owner's sign-in.
    pub const EMAIL: &str = "coach@hall.example";
    /// Its password.
    pub const PASSWORD: &str = "a long enough word";

    /// Opens one with two members.
    pub async fn open() -> Hall {
        Hall::of(2).await
    }

    /// First words of its members' names.
    pub fn names(&self) -> Vec<&'static str> {
        NAMES.iter().take(self.members.len()).map(|n| n.split(' ').next().unwrap_or(n)).collect()
    }

    /// Opens one with so many members, up to 20.
    pub async fn of(members: usize) -> Hall {
        let database = TestDatabase::new();
        let mut conn = database.conn();
        let gym = gym::add(&mut conn, "Test Hall", "Port Ellery", false).unwrap();
        account::add(&mut conn, gym, Hall::EMAIL, "Coach", Role::Owner, Hall::PASSWORD).unwrap();
        kit::change(&mut conn, gym, &Kit::usual()).unwrap();
        let like = |(i, name): (usize, &&str)| match i % 2 {
            0 => member(name, Standard::Lighter, 80.0, 60.0, 475.0),
            _ => member(name, Standard::Heavier, 130.0, 95.0, 440.0),
        };
        let members: Vec<Member> = NAMES.iter().enumerate().take(members).map(like).collect();
        let members: Vec<MemberId> =
            members.iter().map(|m| roster::add(&mut conn, gym, m, 20).unwrap()).collect();
        let today = Utc::now().date_naive();
        let session = sheet::add(&mut conn, gym, today, "").unwrap();
        let new = NewClass {
            session,
            starts_at: today.and_hms_opt(18, 0, 0).unwrap(),
            length_s: None,
            places: None,
            coach: None,
            booked: members.clone(),
        };
        let class = class::add(&mut conn, gym, &new).unwrap();
        let port = free_port();
        let secret =
            std::env::temp_dir().join(format!("honest-lantern-secret-{}-{port}", std::process::id()));
        let server = Command::new(env!("CARGO_BIN_EXE_honest-lantern"))
            .args(["serve", "--listen", &format!("127.0.0.1:{port}"), "--database-url", database.url()])
            .arg("--secret-file")
            .arg(&secret)
            .stdout(Stdio::null())
            .stderr(Stdio::null())
            .spawn()
            .unwrap();
        listens(port).await;
        Hall { server, port, database, gym, secret, class, members }
    }

    /// Saves the class's sheet.
    pub fn save_sheet(&self, text: &str) {
        let mut conn = self.database.conn();
        let session = class::find(&mut conn, self.gym, self.class).unwrap().session;
        set_sheet(&mut conn, self.gym, session, text).unwrap();
    }

    /// Results of its class, in words, with the row that they are of.
    pub fn results(&self) -> Vec<String> {
        let mut conn = self.database.conn();
        let mut all: Vec<String> = logbook::list(&mut conn, self.gym, self.class)
            .unwrap()
            .iter()
            .map(|l| format!("{} {}", l.block, l.outcome.text()))
            .collect();
        all.sort();
        all
    }

    /// What is typed of its sheet and not saved.
    pub fn draft(&self) -> Option<String> {
        let mut conn = self.database.conn();
        let session = class::find(&mut conn, self.gym, self.class).unwrap().session;
        let drafts = sheet::find(&mut conn, self.gym, session).unwrap().drafts;
        drafts.into_iter().next().map(|(_, text)| text)
    }

    /// Decisions of its class.
    pub fn decided(&self) -> usize {
        decision::list(&mut self.database.conn(), self.gym, self.class).unwrap().0.len()
    }

    /// The wall's clock shows so many seconds from now on.
    pub fn start_clock(&self, shows_s: i64) {
        let mut conn = self.database.conn();
        // what is started as of some time ago has its lead-in behind it
        let pressed = Utc::now() - TimeDelta::seconds(10 + shows_s);
        clock::press(&mut conn, self.gym, self.class, Press::Start, pressed).unwrap();
    }

    /// A minute goes by in a second.
    #[allow(dead_code)] // the pictures have one
    pub async fn minute(&self) {
        run_ahead(&mut self.database.conn(), self.class, 59).unwrap();
        // every screen is told meanwhile
        tokio::time::sleep(std::time::Duration::from_secs(1)).await;
    }

    /// Sets that were logged at its racks.
    #[allow(dead_code)] // the pictures log none
    pub fn sets(&self) -> usize {
        lantern_store::lifting::list(&mut self.database.conn(), self.gym, self.class).unwrap().len()
    }

    /// Its server is gone, as where there is no line.
    #[allow(dead_code)] // the pictures have one
    pub fn end_server(&mut self) {
        let _ = self.server.kill();
        let _ = self.server.wait();
    }

    /// Signs everybody out, as time does.
    pub fn expire(&self) {
        let mut conn = self.database.conn();
        sign_everybody_out(&mut conn, self.gym).unwrap();
    }

    /// Address of the first member's card.
    pub fn card(&self) -> String {
        let booked = booking::planned(&mut self.database.conn(), self.gym, self.class).unwrap();
        format!("/card/{}", booked[0].card_token)
    }

    /// Signs its owner in.
    pub async fn sign_in(&self, c: &Client) {
        c.goto(&self.url("/")).await.unwrap();
        c.find(Locator::Id("email")).await.unwrap().send_keys(Hall::EMAIL).await.unwrap();
        c.find(Locator::Id("password")).await.unwrap().send_keys(Hall::PASSWORD).await.unwrap();
        c.find(Locator::Css("form button")).await.unwrap().click().await.unwrap();
        c.wait().for_element(Locator::Css(".hl-week")).await.unwrap();
    }

    /// An address of it.
    pub fn url(&self, path: &str) -> String {
        format!("http://127.0.0.1:{}{path}", self.port)
    }
}

impl Drop for Hall {
    fn drop(&mut self) {
        let _ = self.server.kill();
        let _ = self.server.wait();
        let _ = std::fs::remove_file(&self.secret);
    }
}
