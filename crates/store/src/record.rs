//! The track record: each result is judged once against what was foretold, and counted in the database.

use crate::error::Result;
use crate::ids::{ClassId, GymId};
use crate::schema::{classes, frozen_plans, results};
use chrono::{Days, NaiveDate, NaiveDateTime};
use diesel::dsl::{exists, min, sql};
use diesel::prelude::*;
use diesel::sql_types::{Array, BigInt, Bool, Double, Integer, Nullable, SmallInt, Text, Uuid as SqlUuid};
use lantern_core::held::{landed, seen};
use lantern_core::learning::{Format, Seen};
use lantern_core::logbook::Outcome;
use lantern_core::plan::PlanAnswer;
use lantern_core::record::{Bin, Cell, Cluster, Landed, Unjudged};
use lantern_core::units::Provenance;
use lantern_core::versions::Tier;
use serde_json::Value;
use std::collections::HashMap;
use uuid::Uuid;

/// Classes that are judged in one go: a hall that has never been counted is counted in steps.
const MOST_AT_ONCE: usize = 300;
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

/// A result that is not judged yet.
type Open = (Uuid, Uuid, i32, Value, String);

/// Judges what is new, some classes at a time; how many classes wait still.
pub(crate) fn judge(conn: &mut PgConnection, gym: GymId) -> Result<usize> {
    let open = results::table.filter(results::gym_id.eq(gym.0).and(results::judged.eq(false)));
    let all: Vec<Uuid> = open.select(results::class_id).distinct().load(conn)?;
    let now: Vec<Uuid> = all.iter().take(MOST_AT_ONCE).copied().collect();
    if now.is_empty() {
        return Ok(0);
    }
    let plans: HashMap<Uuid, Option<PlanAnswer>> = frozen_plans::table
        .filter(frozen_plans::gym_id.eq(gym.0).and(frozen_plans::class_id.eq_any(&now)))
        .select((frozen_plans::class_id, frozen_plans::body))
        .load::<(Uuid, Value)>(conn)?
        .into_iter()
        .map(|(id, body)| (id, serde_json::from_value(body).ok()))
        .collect();
    let standards = crate::roster::standards(conn, gym)?;
    // held until it is kept: a result that is corrected meanwhile waits, and is judged again
    let rows = open
        .filter(results::class_id.eq_any(&now))
        .select((results::class_id, results::member_id, results::block, results::outcome, results::tier))
        .for_update()
        .load::<Open>(conn)?;
    let mut done = Done::default();
    for (class, member, block, outcome, tier) in rows {
        let id = member.to_string();
        let outcome: Option<Outcome> = serde_json::from_value(outcome).ok();
        let plan = plans.get(&class).and_then(Option::as_ref);
        let (Some(outcome), Some(plan)) = (outcome, plan) else {
            done.push((class, member, block), Err(Unjudged::Unread), None);
            continue;
        };
        let tier = Tier::read(&tier).unwrap_or(Tier::Full);
        let at = usize::try_from(block).unwrap_or(usize::MAX);
        let landed = landed(plan, (&id, at), (outcome, tier), standards.get(&id).copied());
        let seen = seen(plan, (&id, at), (outcome, tier));
        done.push((class, member, block), landed, seen);
    }
    done.keep(conn, gym)?;
    Ok(all.len() - now.len())
}

/// Judged results, column by column.
#[derive(Default)]
struct Done {
    class: Vec<Uuid>,
    member: Vec<Uuid>,
    block: Vec<i32>,
    slot: Vec<Option<i16>>,
    inside: Vec<Option<bool>>,
    by: Vec<Option<&'static str>>,
    off: Vec<Option<f64>>,
    half: Vec<Option<f64>>,
    window_said: Vec<Option<f64>>,
    window_came: Vec<Option<bool>>,
    cap_said: Vec<Option<f64>>,
    cap_came: Vec<Option<bool>>,
    own: Vec<Option<i32>>,
    unjudged: Vec<Option<&'static str>>,
    late: Vec<Option<f64>>,
    better: Vec<Option<f64>>,
    worse: Vec<Option<f64>>,
    format: Vec<Option<&'static str>>,
    limited: Vec<Option<&'static str>>,
}

impl Done {
    fn push(
        &mut self,
        (class, member, block): (Uuid, Uuid, i32),
        landed: std::result::Result<Landed, Unjudged>,
        seen: Option<Seen>,
    ) {
        self.class.push(class);
        self.member.push(member);
        self.block.push(block);
        let j = landed.as_ref().ok();
        let place = j.and_then(|j| j.place);
        self.slot.push(place.map(|p| i16::from(p.slot)));
        self.inside.push(place.map(|p| p.inside));
        self.off.push(place.and_then(|p| p.off));
        self.half.push(place.and_then(|p| p.half));
        self.by.push(j.map(|j| j.promise.provenance.word()));
        self.window_said.push(j.and_then(|j| Some(j.promise.window?.chance)));
        self.window_came.push(j.and_then(|j| Some(j.promise.window?.came)));
        self.cap_said.push(j.and_then(|j| Some(j.promise.cap?.chance)));
        self.cap_came.push(j.and_then(|j| Some(j.promise.cap?.came)));
        self.own.push(j.map(|j| i32::try_from(j.promise.results).unwrap_or(i32::MAX)));
        self.unjudged.push(landed.as_ref().err().map(|u| u.word()));
        self.late.push(seen.as_ref().map(|s| s.late));
        self.better.push(seen.as_ref().map(|s| s.foretold.better));
        self.worse.push(seen.as_ref().map(|s| s.foretold.worse));
        self.format.push(seen.as_ref().map(|s| s.foretold.format.word()));
        self.limited.push(seen.as_ref().map(|s| s.foretold.group.word()));
    }

    fn keep(self, conn: &mut PgConnection, gym: GymId) -> Result<()> {
        diesel::sql_query(
            "UPDATE results r SET judged = true, slot = v.slot, inside = v.inside, foretold_by = v.by, \
             off_middle = v.off, half = v.half, window_said = v.ws, window_came = v.wc, cap_said = v.cs, \
             cap_came = v.cc, own_results = v.own, unjudged = v.unjudged, late = v.late, better_sd = v.better, \
             worse_sd = v.worse, format = v.format, limited_by = v.limited \
             FROM unnest($2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15, $16, $17, $18, $19, $20) \
             AS v(class, member, block, slot, inside, by, off, half, ws, wc, cs, cc, own, unjudged, late, better, \
             worse, format, limited) \
             WHERE r.gym_id = $1 AND r.class_id = v.class AND r.member_id = v.member AND r.block = v.block",
        )
        .bind::<SqlUuid, _>(gym.0)
        .bind::<Array<SqlUuid>, _>(self.class)
        .bind::<Array<SqlUuid>, _>(self.member)
        .bind::<Array<Integer>, _>(self.block)
        .bind::<Array<Nullable<SmallInt>>, _>(self.slot)
        .bind::<Array<Nullable<Bool>>, _>(self.inside)
        .bind::<Array<Nullable<Text>>, _>(self.by)
        .bind::<Array<Nullable<Double>>, _>(self.off)
        .bind::<Array<Nullable<Double>>, _>(self.half)
        .bind::<Array<Nullable<Double>>, _>(self.window_said)
        .bind::<Array<Nullable<Bool>>, _>(self.window_came)
        .bind::<Array<Nullable<Double>>, _>(self.cap_said)
        .bind::<Array<Nullable<Bool>>, _>(self.cap_came)
        .bind::<Array<Nullable<Integer>>, _>(self.own)
        .bind::<Array<Nullable<Text>>, _>(self.unjudged)
        .bind::<Array<Nullable<Double>>, _>(self.late)
        .bind::<Array<Nullable<Double>>, _>(self.better)
        .bind::<Array<Nullable<Double>>, _>(self.worse)
        .bind::<Array<Nullable<Text>>, _>(self.format)
        .bind::<Array<Nullable<Text>>, _>(self.limited)
        .execute(conn)?;
        Ok(())
    }
}

/// Lets what could not be read be tried again: another version of the program may read it.
///
/// # Errors
/// When the database is away.
pub fn try_again(conn: &mut PgConnection) -> Result<()> {
    let unread = results::table.filter(results::unjudged.eq(Unjudged::Unread.word()));
    diesel::update(unread)
        .set((results::judged.eq(false), results::unjudged.eq(None::<String>)))
        .execute(conn)?;
    Ok(())
}

/// The record of a hall: what is new is judged first. `today`: the last days are counted back from it; `latest`: so many classes are
/// named.
///
/// # Errors
/// When the database is away.
pub fn counted(conn: &mut PgConnection, gym: GymId, today: NaiveDate, latest: i64) -> Result<Counted> {
    let waiting = conn.transaction(|conn| judge(conn, gym))?;
    let (cells, of_class) = cells(conn, gym, today)?;
    let cut = cut(conn, gym)?;
    let unread = cut.unjudged.iter().any(|(u, _)| *u == Unjudged::Unread);
    Ok(Counted {
        classes: of_class.len(),
        span: if of_class.is_empty() { None } else { spanned(conn, gym)? },
        latest: latest_classes(conn, gym, latest, &of_class)?,
        lost: if unread { lost(conn, gym)? } else { (0, None) },
        cells,
        members: cut.members,
        slots: cut.slots,
        window: cut.window,
        cap: cut.cap,
        unjudged: cut.unjudged,
        waiting,
    })
}

fn count(n: i64) -> usize {
    usize::try_from(n).unwrap_or(0)
}

/// Inside and in all of each class.
type OfClass = HashMap<Uuid, Cluster>;

/// A row of [`cells`].
#[derive(QueryableByName)]
struct CellRow {
    #[diesel(sql_type = SqlUuid)]
    class: Uuid,
    #[diesel(sql_type = Bool)]
    lately: bool,
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
fn cells(conn: &mut PgConnection, gym: GymId, today: NaiveDate) -> Result<(Vec<Cell>, OfClass)> {
    let from = today.checked_sub_days(Days::new(LATELY_DAYS)).unwrap_or(NaiveDate::MIN);
    let rows = diesel::sql_query(
        "SELECT class_id AS class, on_date > $2 AS lately, foretold_by AS by, format, \
         coalesce(own_results, 0) > 0 AS learnt, count(*) AS n, count(*) FILTER (WHERE inside) AS hits, \
         count(*) FILTER (WHERE slot = 0) AS better, count(*) FILTER (WHERE slot = 9) AS worse, \
         coalesce(sum(off_middle), 0) AS off, count(off_middle) AS offs, coalesce(sum(half), 0) AS halves \
         FROM results WHERE gym_id = $1 AND slot IS NOT NULL GROUP BY 1, 2, 3, 4, 5 ORDER BY 1, 2, 3, 4, 5",
    )
    .bind::<SqlUuid, _>(gym.0)
    .bind::<diesel::sql_types::Date, _>(from)
    .load::<CellRow>(conn)?;
    let mut of_class = OfClass::new();
    let mut places: HashMap<Uuid, usize> = HashMap::new();
    let mut cells = Vec::with_capacity(rows.len());
    for r in rows {
        let known = places.len();
        let class = *places.entry(r.class).or_insert(known);
        let sum = of_class.entry(r.class).or_default();
        *sum = (sum.0 + count(r.hits), sum.1 + count(r.n));
        let Some(provenance) = Provenance::read(&r.by) else { continue };
        cells.push(Cell {
            class,
            late: r.lately,
            provenance,
            format: r.format.as_deref().and_then(Format::read),
            learnt: r.learnt,
            of: count(r.n),
            inside: count(r.hits),
            missed: [count(r.better), count(r.worse)],
            off: (r.off, count(r.offs)),
            half: r.halves,
        });
    }
    Ok((cells, of_class))
}

/// Results cut in several ways at once.
#[derive(Default)]
struct Cut {
    members: Vec<Cluster>,
    slots: [usize; 10],
    window: Vec<Bin>,
    cap: Vec<Bin>,
    unjudged: Vec<(Unjudged, usize)>,
}

/// A row of [`cut`].
#[derive(QueryableByName)]
struct CutRow {
    #[diesel(sql_type = Integer)]
    way: i32,
    #[diesel(sql_type = Nullable<SmallInt>)]
    slot: Option<i16>,
    #[diesel(sql_type = Nullable<Text>)]
    unjudged: Option<String>,
    #[diesel(sql_type = BigInt)]
    n: i64,
    #[diesel(sql_type = BigInt)]
    placed: i64,
    #[diesel(sql_type = BigInt)]
    hits: i64,
    #[diesel(sql_type = Nullable<Double>)]
    in_window: Option<f64>,
    #[diesel(sql_type = Nullable<Double>)]
    window_came: Option<f64>,
    #[diesel(sql_type = Nullable<Double>)]
    cap: Option<f64>,
    #[diesel(sql_type = Nullable<Double>)]
    cap_came: Option<f64>,
}

/// One look at all results, cut by member, tenth, tenths of the chances that were said, and why one is not judged.
fn cut(conn: &mut PgConnection, gym: GymId) -> Result<Cut> {
    // the bits of way say what a row is not cut by: member, slot, window, cap, unjudged, the last the lowest
    let rows = diesel::sql_query(
        "SELECT grouping(member_id, slot, w, c, unjudged) AS way, slot, unjudged, count(*) AS n, count(slot) AS placed, \
         count(*) FILTER (WHERE inside AND slot IS NOT NULL) AS hits, avg(window_said) AS in_window, \
         avg(window_came::int)::float8 AS window_came, avg(cap_said) AS cap, avg(cap_came::int)::float8 AS cap_came \
         FROM (SELECT *, least(floor(window_said * 10), 9) AS w, least(floor(cap_said * 10), 9) AS c \
         FROM results WHERE gym_id = $1) r \
         GROUP BY GROUPING SETS ((member_id), (slot), (w), (c), (unjudged)) ORDER BY way, in_window, cap, member_id, slot",
    )
    .bind::<SqlUuid, _>(gym.0)
    .load::<CutRow>(conn)?;
    let mut out = Cut::default();
    let bin =
        |said: Option<f64>, came: Option<f64>, n: i64| Some(Bin { said: said?, came: came?, of: count(n) });
    for r in rows {
        match r.way {
            0b01111 if r.placed > 0 => out.members.push((count(r.hits), count(r.placed))),
            0b10111 => {
                let place = r.slot.and_then(|s| usize::try_from(s).ok()).and_then(|s| out.slots.get_mut(s));
                place.into_iter().for_each(|p| *p = count(r.n));
            }
            0b11011 => out.window.extend(bin(r.in_window, r.window_came, r.n)),
            0b11101 => out.cap.extend(bin(r.cap, r.cap_came, r.n)),
            0b11110 => {
                out.unjudged.extend(r.unjudged.as_deref().and_then(Unjudged::read).map(|u| (u, count(r.n))))
            }
            _ => {}
        }
    }
    out.cap.sort_by(|a, b| a.said.total_cmp(&b.said));
    out.unjudged.sort_unstable();
    Ok(out)
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
