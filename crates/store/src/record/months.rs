//! A month's judged results, added up once and kept until its log changes.

use super::count;
use crate::error::Result;
use crate::ids::GymId;
use crate::schema::{log_days, record_months};
use chrono::NaiveDate;
use diesel::dsl::sql;
use diesel::prelude::*;
use diesel::sql_types::{
    Array, BigInt, Bool, Date, Double, Integer, Jsonb, Nullable, SmallInt, Text, Uuid as SqlUuid,
};
use lantern_core::learning::Format;
use lantern_core::record::Cell;
use lantern_core::units::Provenance;
use serde::{Deserialize, Serialize};
use std::collections::{BTreeMap, HashMap};
use uuid::Uuid;

/// What is kept of a month.
#[derive(Debug, Default, Serialize, Deserialize)]
pub(super) struct Month {
    /// Judged results added up by class and what they rest on.
    pub cells: Vec<Kept>,
    /// Inside and in all, for each member.
    pub members: Vec<(Uuid, usize, usize)>,
    /// Results in each tenth of their range, better first.
    pub slots: [usize; 10],
    /// Chances of the window, by the tenth that was said.
    pub window: [Chance; 10],
    /// Chances of the cap, the same.
    pub cap: [Chance; 10],
    /// What is not judged, and why.
    pub unjudged: BTreeMap<String, usize>,
}

/// Chances that were said alike: sums of what was said and of what came.
#[derive(Debug, Default, Clone, Copy, Serialize, Deserialize)]
pub(super) struct Chance {
    pub said: f64,
    pub came: f64,
    pub of: usize,
}

/// Results of one class that rest on the same and are of one kind.
#[derive(Debug, Serialize, Deserialize)]
pub(super) struct Kept {
    pub class: Uuid,
    pub on_date: NaiveDate,
    pub by: String,
    pub format: Option<String>,
    pub learnt: bool,
    pub of: usize,
    pub inside: usize,
    pub missed: [usize; 2],
    pub off: (f64, usize),
    pub half: f64,
}

impl Kept {
    /// As the record reads it; `None` where its provenance cannot be read any more.
    pub fn cell(&self, class: usize, from: NaiveDate) -> Option<Cell> {
        Some(Cell {
            class,
            late: self.on_date > from,
            provenance: Provenance::read(&self.by)?,
            format: self.format.as_deref().and_then(Format::read),
            learnt: self.learnt,
            of: self.of,
            inside: self.inside,
            missed: self.missed,
            off: self.off,
            half: self.half,
        })
    }
}

/// A month with how often its log has changed.
type Changes = (NaiveDate, i64);

/// All months of a hall's log, oldest first; those whose log has changed are added up again and kept.
pub(super) fn all(conn: &mut PgConnection, gym: GymId) -> Result<Vec<Month>> {
    // one moment for all of it: no change comes between a month's count and its sums
    let (known, made) = conn.build_transaction().repeatable_read().read_only().run(|conn| {
        let now = changes(conn, gym)?;
        let mut known = kept(conn, gym)?;
        let stale: Vec<Changes> =
            now.iter().filter(|(m, n)| known.get(m).is_none_or(|k| k.0 != *n)).copied().collect();
        known.retain(|m, _| !stale.iter().any(|s| s.0 == *m));
        let made = if stale.is_empty() { Vec::new() } else { add_up(conn, gym, &stale)? };
        Ok::<_, crate::error::StoreError>((known, made))
    })?;
    for (month, n, sums) in &made {
        keep(conn, gym, (*month, *n), sums)?;
    }
    let mut all: BTreeMap<NaiveDate, Month> = known.into_iter().map(|(m, (_, sums))| (m, sums)).collect();
    all.extend(made.into_iter().map(|(m, _, sums)| (m, sums)));
    Ok(all.into_values().collect())
}

fn changes(conn: &mut PgConnection, gym: GymId) -> Result<Vec<Changes>> {
    let month = || sql::<Date>("date_trunc('month', on_date)::date");
    Ok(log_days::table
        .filter(log_days::gym_id.eq(gym.0))
        .group_by(month())
        .select((month(), sql::<BigInt>("sum(changes)::bigint")))
        .order(month())
        .load(conn)?)
}

/// What is kept, as of so many changes; what cannot be read any more is not there.
fn kept(conn: &mut PgConnection, gym: GymId) -> Result<HashMap<NaiveDate, (i64, Month)>> {
    let rows = record_months::table
        .filter(record_months::gym_id.eq(gym.0))
        .select((record_months::month, record_months::changes, sql::<Text>("body::text")))
        .load::<(NaiveDate, i64, String)>(conn)?;
    let read =
        |(month, n, body): (NaiveDate, i64, String)| Some((month, (n, serde_json::from_str(&body).ok()?)));
    Ok(rows.into_iter().filter_map(read).collect())
}

fn keep(conn: &mut PgConnection, gym: GymId, (month, n): Changes, sums: &Month) -> Result<()> {
    // what cannot be written is worked out again the next time
    let Ok(body) = serde_json::to_value(sums) else { return Ok(()) };
    // somebody who saw more changes may have been quicker
    diesel::sql_query(
        "INSERT INTO record_months AS m (gym_id, month, changes, body) VALUES ($1, $2, $3, $4) \
         ON CONFLICT (gym_id, month) DO UPDATE SET changes = EXCLUDED.changes, body = EXCLUDED.body \
         WHERE m.changes <= EXCLUDED.changes",
    )
    .bind::<SqlUuid, _>(gym.0)
    .bind::<Date, _>(month)
    .bind::<BigInt, _>(n)
    .bind::<Jsonb, _>(body)
    .execute(conn)?;
    Ok(())
}

/// Adds months up from their results.
fn add_up(conn: &mut PgConnection, gym: GymId, stale: &[Changes]) -> Result<Vec<(NaiveDate, i64, Month)>> {
    let months: Vec<NaiveDate> = stale.iter().map(|s| s.0).collect();
    let mut cells = cells(conn, gym, &months)?;
    let mut cut = cut(conn, gym, &months)?;
    let of = |(month, n): &Changes| {
        let mut sums = cut.remove(month).unwrap_or_default();
        sums.cells = cells.remove(month).unwrap_or_default();
        (*month, *n, sums)
    };
    Ok(stale.iter().map(of).collect())
}

/// A row of [`cells`].
#[derive(QueryableByName)]
struct CellRow {
    #[diesel(sql_type = Date)]
    month: NaiveDate,
    #[diesel(sql_type = SqlUuid)]
    class: Uuid,
    #[diesel(sql_type = Date)]
    day: NaiveDate,
    #[diesel(sql_type = Text)]
    by: String,
    #[diesel(sql_type = Nullable<Text>)]
    format: Option<String>,
    #[diesel(sql_type = Bool)]
    learnt: bool,
    #[diesel(sql_type = BigInt)]
    n: i64,
    #[diesel(sql_type = BigInt)]
    hits: i64,
    #[diesel(sql_type = BigInt)]
    better: i64,
    #[diesel(sql_type = BigInt)]
    worse: i64,
    #[diesel(sql_type = Double)]
    off: f64,
    #[diesel(sql_type = BigInt)]
    offs: i64,
    #[diesel(sql_type = Double)]
    halves: f64,
}

/// Judged results added up by class and by what they rest on.
fn cells(conn: &mut PgConnection, gym: GymId, months: &[NaiveDate]) -> Result<HashMap<NaiveDate, Vec<Kept>>> {
    let rows = diesel::sql_query(
        "SELECT date_trunc('month', on_date)::date AS month, class_id AS class, on_date AS day, foretold_by AS by, format, \
         coalesce(own_results, 0) > 0 AS learnt, count(*) AS n, count(*) FILTER (WHERE inside) AS hits, \
         count(*) FILTER (WHERE slot = 0) AS better, count(*) FILTER (WHERE slot = 9) AS worse, \
         coalesce(sum(off_middle), 0) AS off, count(off_middle) AS offs, coalesce(sum(half), 0) AS halves FROM results \
         WHERE gym_id = $1 AND slot IS NOT NULL AND on_date >= $3 AND date_trunc('month', on_date)::date = ANY($2) \
         GROUP BY 1, 2, 3, 4, 5, 6 ORDER BY 1, 2, 3, 4, 5, 6",
    )
    .bind::<SqlUuid, _>(gym.0)
    .bind::<Array<Date>, _>(months)
    .bind::<Nullable<Date>, _>(months.iter().min())
    .load::<CellRow>(conn)?;
    let mut out: HashMap<NaiveDate, Vec<Kept>> = HashMap::new();
    for r in rows {
        out.entry(r.month).or_default().push(Kept {
            class: r.class,
            on_date: r.day,
            by: r.by,
            format: r.format,
            learnt: r.learnt,
            of: count(r.n),
            inside: count(r.hits),
            missed: [count(r.better), count(r.worse)],
            off: (r.off, count(r.offs)),
            half: r.halves,
        });
    }
    Ok(out)
}

/// A row of [`cut`].
#[derive(QueryableByName)]
struct CutRow {
    #[diesel(sql_type = Date)]
    month: NaiveDate,
    #[diesel(sql_type = Integer)]
    way: i32,
    #[diesel(sql_type = Nullable<SqlUuid>)]
    member_id: Option<Uuid>,
    #[diesel(sql_type = Nullable<SmallInt>)]
    slot: Option<i16>,
    #[diesel(sql_type = Nullable<SmallInt>)]
    w: Option<i16>,
    #[diesel(sql_type = Nullable<SmallInt>)]
    c: Option<i16>,
    #[diesel(sql_type = Nullable<Text>)]
    unjudged: Option<String>,
    #[diesel(sql_type = BigInt)]
    n: i64,
    #[diesel(sql_type = BigInt)]
    placed: i64,
    #[diesel(sql_type = BigInt)]
    hits: i64,
    #[diesel(sql_type = Double)]
    window_said: f64,
    #[diesel(sql_type = Double)]
    window_came: f64,
    #[diesel(sql_type = Double)]
    cap_said: f64,
    #[diesel(sql_type = Double)]
    cap_came: f64,
}

impl Month {
    /// The place of a tenth.
    fn at<T>(all: &mut [T; 10], tenth: Option<i16>) -> Option<&mut T> {
        usize::try_from(tenth?).ok().and_then(|t| all.get_mut(t))
    }

    fn take(&mut self, r: CutRow) {
        let n = count(r.n);
        match r.way {
            0b01111 => self.members.extend(r.member_id.map(|m| (m, count(r.hits), count(r.placed)))),
            0b10111 => {
                if let Some(slot) = Month::at(&mut self.slots, r.slot) {
                    *slot = n;
                }
            }
            0b11011 => {
                if let Some(chance) = Month::at(&mut self.window, r.w) {
                    *chance = Chance { said: r.window_said, came: r.window_came, of: n };
                }
            }
            0b11101 => {
                if let Some(chance) = Month::at(&mut self.cap, r.c) {
                    *chance = Chance { said: r.cap_said, came: r.cap_came, of: n };
                }
            }
            0b11110 => self.unjudged.extend(r.unjudged.map(|why| (why, n))),
            _ => {}
        }
    }
}

/// One look at all results, cut by member, tenth, tenths of the chances that were said, and why one is not judged.
fn cut(conn: &mut PgConnection, gym: GymId, months: &[NaiveDate]) -> Result<HashMap<NaiveDate, Month>> {
    // the least of nothing and 9 is 9: where no chance was said there is no tenth
    // the bits of way say what a row is not cut by: member, slot, window, cap, unjudged, the last the lowest
    let rows = diesel::sql_query(
        "SELECT month, grouping(member_id, slot, w, c, unjudged) AS way, member_id, slot, w, c, unjudged, \
         count(*) AS n, count(slot) AS placed, count(*) FILTER (WHERE inside AND slot IS NOT NULL) AS hits, \
         coalesce(sum(window_said), 0) AS window_said, coalesce(sum(window_came::int), 0)::float8 AS window_came, \
         coalesce(sum(cap_said), 0) AS cap_said, coalesce(sum(cap_came::int), 0)::float8 AS cap_came \
         FROM (SELECT *, date_trunc('month', on_date)::date AS month, CASE WHEN window_said IS NOT NULL THEN \
         least(floor(window_said * 10), 9)::smallint END AS w, CASE WHEN cap_said IS NOT NULL THEN \
         least(floor(cap_said * 10), 9)::smallint END AS c FROM results WHERE gym_id = $1 AND on_date >= $3) r \
         WHERE month = ANY($2) GROUP BY month, \
         GROUPING SETS ((member_id), (slot), (w), (c), (unjudged)) ORDER BY month, way, member_id",
    )
    .bind::<SqlUuid, _>(gym.0)
    .bind::<Array<Date>, _>(months)
    .bind::<Nullable<Date>, _>(months.iter().min())
    .load::<CutRow>(conn)?;
    let mut out: HashMap<NaiveDate, Month> = HashMap::new();
    for r in rows {
        out.entry(r.month).or_default().take(r);
    }
    Ok(out)
}
