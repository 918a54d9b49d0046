//! A hall of one member with a class, and what is logged in it.

use chrono::{NaiveDate, NaiveDateTime};
use lantern_core::held::{Blocks, Inputs};
use lantern_core::kinds::Limit;
use lantern_core::kit::Kit;
use lantern_core::logbook::Outcome;
use lantern_core::pacing::Level;
use lantern_core::plan::{Class as PlanClass, Options, PlanAnswer, answer, plan};
use lantern_core::roster::Member;
use lantern_core::settings::Settings;
use lantern_core::sheet::read;
use lantern_core::units::Standard;
use lantern_core::versions::Tier;
use lantern_store::class::NewClass;
use lantern_store::logbook::{Holds, Logged};
use lantern_store::testing::TestDatabase;
use lantern_store::{ClassId, GymId, MemberId, SessionId, class, gym, logbook, roster, sheet};

pub const SHEET: &str = "# workout \"Quay\" cap 12:00\n3 rounds for time\n10 burpees\n200 m run\n# workout \"Mole\"\namrap 8:00\n10 air squats\n10 sit-ups";

pub fn day(n: u32) -> NaiveDate {
    NaiveDate::from_ymd_opt(2026, 11, n).unwrap()
}

pub fn at(n: u32, hour: u32) -> NaiveDateTime {
    day(n).and_hms_opt(hour, 0, 0).unwrap()
}

pub struct Hall {
    pub db: TestDatabase,
    pub gym: GymId,
    pub ada: MemberId,
    pub session: SessionId,
    pub class: ClassId,
}

impl Hall {
    pub fn new() -> Hall {
        let db = TestDatabase::new();
        let mut conn = db.conn();
        let gym = gym::add(&mut conn, "A", "Port Ellery", false).unwrap();
        let mut m = Member::unknown("Ada Vell", Standard::Lighter, Level::Seasoned);
        m.limits = vec![Limit::Knee];
        let ada = roster::add(&mut conn, gym, &m, 12).unwrap();
        let session = sheet::add(&mut conn, gym, day(24), SHEET).unwrap();
        let class = class_at(&mut conn, gym, session, at(24, 18), ada);
        Hall { db, gym, ada, session, class }
    }

    pub fn made(&self) -> (PlanAnswer, Inputs) {
        let members = vec![roster::find(&mut self.db.conn(), self.gym, self.ada).unwrap()];
        let class = PlanClass {
            members,
            kit: Kit::usual(),
            date: day(24),
            length_s: None,
            recent_drills: Vec::new(),
            cycles: Vec::new(),
        };
        let options = Options { runs: 10, ..Options::default() };
        let reading = read(SHEET).sheet;
        let made = answer(&plan(&reading, &class, &Settings::default(), &[], options));
        let blocks = Blocks::default().align(&reading.blocks);
        let settings = Settings::default();
        let inputs =
            Inputs { sheet: SHEET.into(), choices: Vec::new(), blocks, class, settings, runs: 10, seed: 1 };
        (made, inputs)
    }

    pub fn log(&self, class: ClassId, block: u32, seconds: f64, by: &str) -> Option<Logged> {
        let (plan, inputs) = self.made();
        let holds = Holds { plan: &plan, inputs: &inputs };
        let result = result(self.ada, block, seconds);
        logbook::log(&mut self.db.conn(), self.gym, class, &result, (holds, by)).unwrap()
    }
}

pub fn class_at(
    conn: &mut diesel::PgConnection,
    gym: GymId,
    session: SessionId,
    starts_at: NaiveDateTime,
    member: MemberId,
) -> ClassId {
    let new =
        NewClass { session, starts_at, length_s: None, places: None, coach: None, booked: vec![member] };
    class::add(conn, gym, &new).unwrap()
}

pub fn result(member: MemberId, block: u32, seconds: f64) -> Logged {
    Logged {
        member,
        block,
        outcome: Outcome::Time { seconds },
        tier: Tier::Trim,
        load_kg: Some(40.0),
        note: "strong".into(),
        volume: [("squat".to_owned(), 30.0)].into(),
    }
}
