//! A served database with halls in it, and a browser without a page.

use chrono::{NaiveDate, NaiveDateTime};
use lantern_core::kit::Kit;
use lantern_core::pacing::Level;
use lantern_core::roster::Member;
use lantern_core::units::Standard;
use lantern_store::account::Role;
use lantern_store::class::NewClass;
use lantern_store::testing::TestDatabase;
use lantern_store::{ClassId, GymId, MemberId, account, class, gym, kit, roster, sheet};
use lantern_web::Config;
use std::io::{Read, Write};
use std::net::{TcpListener, TcpStream};

/// The sheet of every hall's class, until a test changes it.
pub const SHEET: &str =
    "# workout \"Quay\" cap 12:00 target 7:00-10:00\n3 rounds for time\n10 burpees\n200 m run";
/// Every owner's password.
pub const PASSWORD: &str = "a long enough word";

/// The time that all tests live in.
pub fn now() -> NaiveDateTime {
    NaiveDate::from_ymd_opt(2026, 11, 24).unwrap().and_hms_opt(12, 0, 0).unwrap()
}

pub struct Server {
    pub port: u16,
    pub database: TestDatabase,
}

pub struct Hall {
    pub gym: GymId,
    pub class: ClassId,
    pub member: MemberId,
    pub email: String,
}

impl Server {
    pub fn start() -> Server {
        Server::with_office(None)
    }

    pub fn with_office(office: Option<lantern_web::post::Office>) -> Server {
        let database = TestDatabase::new();
        let listener = TcpListener::bind("127.0.0.1:0").unwrap();
        let port = listener.local_addr().unwrap().port();
        let pool = database.pool();
        let config = Config {
            secret: vec![7; 64],
            secure_cookies: false,
            office,
            trusted_proxies: Vec::new(),
            now: || now().and_utc(),
            zone: chrono_tz::Tz::UTC,
            set_up_code: Some("LAMP-2468".to_owned()),
        };
        std::thread::spawn(move || {
            actix_web::rt::System::new().block_on(lantern_web::serve(listener, pool, config)).unwrap();
        });
        Server { port, database }
    }

    pub fn hall(&self, name: &str, members: u32) -> Hall {
        let mut conn = self.database.conn();
        let email = format!("{}@hall.example", name.to_lowercase());
        let gym = gym::add(&mut conn, name, "", false).unwrap();
        account::add(&mut conn, gym, &email, "Coach", Role::Owner, PASSWORD).unwrap();
        kit::change(&mut conn, gym, &Kit::usual()).unwrap();
        let booked: Vec<MemberId> = (0..members.max(1))
            .map(|i| {
                let m = Member::unknown(&format!("{name} Member {i}"), Standard::Heavier, Level::Regular);
                roster::add(&mut conn, gym, &m, 20).unwrap()
            })
            .collect();
        let member = booked[0];
        let session = sheet::add(&mut conn, gym, now().date(), SHEET).unwrap();
        let booked = if members == 0 { Vec::new() } else { booked };
        let new = NewClass { session, starts_at: now(), length_s: None, places: None, coach: None, booked };
        Hall { gym, class: class::add(&mut conn, gym, &new).unwrap(), member, email }
    }

    /// Another class of the hall with its first member, the same sheet, some days later.
    pub fn class_on(&self, h: &Hall, days: u64) -> ClassId {
        let mut conn = self.database.conn();
        let session = class::find(&mut conn, h.gym, h.class).unwrap().session;
        let starts_at = now() + chrono::Days::new(days);
        let new = NewClass {
            session,
            starts_at,
            length_s: None,
            places: None,
            coach: None,
            booked: vec![h.member],
        };
        class::add(&mut conn, h.gym, &new).unwrap()
    }

    pub fn browse(&self) -> Browse {
        Browse { port: self.port, cookie: String::new(), csrf: String::new() }
    }

    pub fn signed_in(&self, hall: &Hall) -> Browse {
        let mut b = self.browse();
        let page = b.get("/sign-in");
        b.csrf = token(&page.body);
        let done = b.post("/sign-in", &[("email", &hall.email), ("password", PASSWORD)]);
        assert_eq!((done.status, done.location.as_str()), (303, "/classes"));
        b.csrf = token(&b.get("/classes").body);
        b
    }
}

pub struct Browse {
    pub port: u16,
    pub cookie: String,
    pub csrf: String,
}

pub struct Answer {
    pub status: u16,
    pub location: String,
    pub head: String,
    pub body: String,
}

pub fn token(page: &str) -> String {
    page.split("name=\"csrf\" value=\"")
        .nth(1)
        .and_then(|r| r.split('"').next())
        .unwrap_or_default()
        .to_owned()
}

pub fn encode(text: &str) -> String {
    text.bytes()
        .map(|b| if b.is_ascii_alphanumeric() { char::from(b).to_string() } else { format!("%{b:02X}") })
        .collect()
}

impl Browse {
    pub fn send(&mut self, request: &str) -> Answer {
        let mut s = TcpStream::connect(("127.0.0.1", self.port)).unwrap();
        s.write_all(request.as_bytes()).unwrap();
        let mut raw = Vec::new();
        s.read_to_end(&mut raw).unwrap();
        let text = String::from_utf8_lossy(&raw).into_owned();
        let (head, body) = text.split_once("\r\n\r\n").unwrap_or((&text, ""));
        let header = |name: &str| {
            let l = head.lines().find(|l| l.to_lowercase().starts_with(&format!("{name}: ")));
            l.and_then(|l| l.split_once(": ")).map(|(_, v)| v.to_owned()).unwrap_or_default()
        };
        if let Some(c) = header("set-cookie").split(';').next().filter(|c| c.starts_with("lantern=")) {
            self.cookie = c.to_owned();
        }
        Answer {
            status: head.split(' ').nth(1).and_then(|s| s.parse().ok()).unwrap_or(0),
            location: header("location"),
            head: head.to_owned(),
            body: body.to_owned(),
        }
    }

    pub fn get(&mut self, path: &str) -> Answer {
        let request =
            format!("GET {path} HTTP/1.1\r\nHost: h\r\nCookie: {}\r\nConnection: close\r\n\r\n", self.cookie);
        self.send(&request)
    }

    pub fn post(&mut self, path: &str, fields: &[(&str, &str)]) -> Answer {
        let csrf = self.csrf.clone();
        let mut all = vec![("csrf", csrf.as_str())];
        all.extend(fields);
        self.post_raw(path, &all)
    }

    pub fn post_raw(&mut self, path: &str, fields: &[(&str, &str)]) -> Answer {
        let body: Vec<String> = fields.iter().map(|(k, v)| format!("{}={}", encode(k), encode(v))).collect();
        let body = body.join("&");
        let request = format!(
            "POST {path} HTTP/1.1\r\nHost: h\r\nCookie: {}\r\nContent-Type: application/x-www-form-urlencoded\r\nContent-Length: {}\r\nConnection: close\r\n\r\n{body}",
            self.cookie,
            body.len()
        );
        self.send(&request)
    }
}

/// Every step of a class.
pub const STEPS: [&str; 10] =
    ["sheet", "stimulus", "hour", "warm-up", "loads", "versions", "pacing", "floor", "wall", "log"];
