//! The track record: each result is judged once against what was foretold, each month is added up once, and the record adds up months.

mod judge;
mod months;

pub(crate) use judge::judge;
pub use judge::try_again;

use months::{Chance, Month};

use crate::error::Result;
use crate::ids::{ClassId, GymId};
use crate::schema::{classes, frozen_plans, results};
use chrono::{Days, NaiveDate, NaiveDateTime};
use diesel::dsl::{exists, min, sql};
use diesel::prelude::*;
use diesel::sql_types::{BigInt, Nullable, Text};
use lantern_core::record::{Bin, Cell, Cluster, Unjudged};
use std::collections::{BTreeMap, HashMap};
use uuid::Uuid;

/// The last days that stand beside all.
pub const LATELY_DAYS: u64 = 60;

/// A class of the record.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct ClassRow {
    /// Key.
    pub class: ClassId,
    /// When it was.
    pub starts_at: NaiveDateTime,
    /// Name of its session.
    pub title: Option<String>,
    /// Results inside their range.
    pub inside: usize,
    /// Results that were foretold.
    pub of: usize,
}

/// The record of a hall, counted.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Counted {
    /// Judged results, added up by class and what they rest on.
    pub cells: Vec<Cell>,
    /// Inside and in all, for each member.
    pub members: Vec<Cluster>,
    /// Results in each tenth of their range, better first.
    pub slots: [usize; 10],
    /// Chances of the window: said and came, a tenth of them each.
    pub window: Vec<Bin>,
    /// Chances of the cap, the same.
    pub cap: Vec<Bin>,
    /// What is not judged, and why.
    pub unjudged: Vec<(Unjudged, usize)>,
    /// Classes with results that were foretold.
    pub classes: usize,
    /// The first and the last of them.
    pub span: Option<(NaiveDateTime, NaiveDateTime)>,
    /// The latest of them, latest first.
    pub latest: Vec<ClassRow>,
    /// Classes whose plan or result cannot be read any more, and the first of them.
    pub lost: (usize, Option<NaiveDateTime>),
    /// Classes that are not judged yet.
    pub waiting: usize,
}

/// The record of a hall: what is new is judged first. `today`: the last days are counted back from it; `latest`: so many classes are
/// named.
///
/// # Errors
/// When the database is away.
pub fn counted(conn: &mut PgConnection, gym: GymId, today: NaiveDate, latest: i64) -> Result<Counted> {
    let waiting = conn.transaction(|conn| judge(conn, gym))?;
    let mut sums = Sums::default();
    let from = today.checked_sub_days(Days::new(LATELY_DAYS)).unwrap_or(NaiveDate::MIN);
    for month in months::all(conn, gym)? {
        sums.add(&month, from);
    }
    let unread = sums.unjudged.contains_key(&Unjudged::Unread);
    let of_class = &sums.of_class;
    Ok(Counted {
        classes: of_class.len(),
        span: if of_class.is_empty() { None } else { spanned(conn, gym)? },
        latest: latest_classes(conn, gym, latest, of_class)?,
        lost: if unread { lost(conn, gym)? } else { (0, None) },
        members: sums.members.into_values().filter(|(_, of)| *of > 0).collect(),
        slots: sums.slots,
        window: sums.window.iter().filter_map(Chance::bin).collect(),
        cap: sums.cap.iter().filter_map(Chance::bin).collect(),
        unjudged: sums.unjudged.into_iter().collect(),
        cells: sums.cells,
        waiting,
    })
}

/// Inside and in all of each class.
type OfClass = HashMap<Uuid, Cluster>;

/// Months added up.
#[derive(Default)]
struct Sums {
    cells: Vec<Cell>,
    places: HashMap<Uuid, usize>,
    of_class: OfClass,
    members: BTreeMap<Uuid, Cluster>,
    slots: [usize; 10],
    window: [Chance; 10],
    cap: [Chance; 10],
    unjudged: BTreeMap<Unjudged, usize>,
}

impl Sums {
    /// Adds a month; what was after `from` is of late.
    fn add(&mut self, month: &Month, from: NaiveDate) {
        for c in &month.cells {
            let known = self.places.len();
            let class = *self.places.entry(c.class).or_insert(known);
            let sum = self.of_class.entry(c.class).or_default();
            *sum = (sum.0 + c.inside, sum.1 + c.of);
            self.cells.extend(c.cell(class, from));
        }
        for (member, inside, of) in &month.members {
            let sum = self.members.entry(*member).or_default();
            *sum = (sum.0 + inside, sum.1 + of);
        }
        let slots = self.slots.iter_mut().zip(month.slots);
        slots.for_each(|(sum, n)| *sum += n);
        let both = [(&mut self.window, &month.window), (&mut self.cap, &month.cap)];
        for (sums, of) in both {
            sums.iter_mut().zip(of).for_each(|(sum, of)| sum.add(of));
        }
        for (why, n) in &month.unjudged {
            if let Some(why) = Unjudged::read(why) {
                *self.unjudged.entry(why).or_default() += n;
            }
        }
    }
}

impl Chance {
    fn add(&mut self, of: &Chance) {
        *self = Chance { said: self.said + of.said, came: self.came + of.came, of: self.of + of.of };
    }

    /// Their means; `None` where nothing was said.
    fn bin(&self) -> Option<Bin> {
        let n = self.of as f64;
        (self.of > 0).then(|| Bin { said: self.said / n, came: self.came / n, of: self.of })
    }
}

fn count(n: i64) -> usize {
    usize::try_from(n).unwrap_or(0)
}

/// Classes with judged results.
macro_rules! judged_classes {
    ($gym:expr) => {
        classes::table.filter(classes::gym_id.eq($gym.0)).filter(exists(
            results::table
                .filter(results::gym_id.eq(classes::gym_id).and(results::class_id.eq(classes::id)))
                .filter(results::slot.is_not_null()),
        ))
    };
}

/// When the first and the last class with judged results was.
fn spanned(conn: &mut PgConnection, gym: GymId) -> Result<Option<(NaiveDateTime, NaiveDateTime)>> {
    let first = judged_classes!(gym)
        .order(classes::starts_at)
        .select(classes::starts_at)
        .first::<NaiveDateTime>(conn)
        .optional()?;
    let last = judged_classes!(gym)
        .order(classes::starts_at.desc())
        .select(classes::starts_at)
        .first::<NaiveDateTime>(conn)
        .optional()?;
    Ok(first.zip(last))
}

fn latest_classes(
    conn: &mut PgConnection,
    gym: GymId,
    latest: i64,
    of_class: &OfClass,
) -> Result<Vec<ClassRow>> {
    let rows = judged_classes!(gym)
        .order((classes::starts_at.desc(), classes::id))
        .limit(latest)
        .select((classes::id, classes::starts_at))
        .load::<(Uuid, NaiveDateTime)>(conn)?;
    let ids: Vec<Uuid> = rows.iter().map(|r| r.0).collect();
    let titles: HashMap<Uuid, Option<String>> = frozen_plans::table
        .filter(frozen_plans::gym_id.eq(gym.0).and(frozen_plans::class_id.eq_any(&ids)))
        .select((frozen_plans::class_id, sql::<Nullable<Text>>("frozen_plans.body->>'title'")))
        .load(conn)?
        .into_iter()
        .collect();
    let row = |(id, starts_at): (Uuid, NaiveDateTime)| {
        let (inside, of) = of_class.get(&id).copied().unwrap_or_default();
        ClassRow { class: ClassId(id), starts_at, title: titles.get(&id).cloned().flatten(), inside, of }
    };
    Ok(rows.into_iter().map(row).collect())
}

/// Classes whose plan or result cannot be read any more, and the first of them.
fn lost(conn: &mut PgConnection, gym: GymId) -> Result<(usize, Option<NaiveDateTime>)> {
    let distinct = sql::<BigInt>("count(DISTINCT results.class_id)");
    let (n, at) = results::table
        .inner_join(
            classes::table.on(classes::gym_id.eq(results::gym_id).and(classes::id.eq(results::class_id))),
        )
        .filter(results::gym_id.eq(gym.0).and(results::unjudged.eq(Unjudged::Unread.word())))
        .select((distinct, min(classes::starts_at)))
        .first::<(i64, Option<NaiveDateTime>)>(conn)?;
    Ok((count(n), at))
}
