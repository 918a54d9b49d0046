//! One hall as a file, line by line, and back: to take it to another server, or to keep it.

use crate::error::{Result, StoreError};
use crate::ids::GymId;
use diesel::prelude::*;
use diesel::sql_types::{Nullable, Text, Uuid as SqlUuid};
use serde::{Deserialize, Serialize};
use serde_json::value::RawValue;
use std::io::{BufRead, Write};

/// Every table with rows of a hall, those first that others hang on. Sign-ins, keys of changes and links that wait stay behind: they
/// belong to the server.
pub const TABLES: [&str; 28] = [
    "gyms",
    "accounts",
    "second_factors",
    "recovery_codes",
    "members",
    "maxes",
    "bests",
    "trials",
    "limits",
    "member_links",
    "proposals",
    "kit",
    "cycles",
    "regular_classes",
    "sessions",
    "drafts",
    "classes",
    "bookings",
    "decisions",
    "results",
    "result_changes",
    "lifted_sets",
    "cuts",
    "frozen_plans",
    "shown_plans",
    "audit",
    "feeds",
    "feed_events",
];

/// Tables of a hall that stay behind: what belongs to the server, and what is counted again from the results.
pub const LEFT: [&str; 7] =
    ["sign_ins", "links", "done_keys", "known_doors", "member_days", "log_days", "record_months"];

/// Tables whose rows tell of limits or how somebody is.
const PRIVATE: [&str; 7] =
    ["limits", "proposals", "results", "cuts", "frozen_plans", "shown_plans", "decisions"];

/// Rows that are put in at a time.
const BATCH: usize = 500;

/// The first line of a file.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
struct Head {
    /// What it is.
    file: String,
    /// Newest change of the schema: a file is read by the same only.
    schema: String,
    /// Key of the hall.
    gym: GymId,
    /// Name of the hall.
    hall: String,
    /// Said to whoever opens it.
    caution: String,
    /// Which of its tables tell of limits or how somebody is.
    private: Vec<String>,
}

const FILE: &str = "a hall of Honest Lantern";
const CAUTION: &str = "Members' limits, results and notes are in it: keep it like a medical record, and give it to nobody who may not see them.";

#[derive(QueryableByName)]
struct Json {
    #[diesel(sql_type = Nullable<Text>)]
    row: Option<String>,
}

#[derive(QueryableByName)]
struct Version {
    #[diesel(sql_type = Text)]
    version: String,
}

fn schema(conn: &mut PgConnection) -> Result<String> {
    let all: Version = diesel::sql_query("SELECT max(version) AS version FROM __diesel_schema_migrations")
        .get_result(conn)?;
    Ok(all.version)
}

/// The rows of a table that are a hall's, as it stands in one moment. The names of tables are ours alone.
fn rows(conn: &mut PgConnection, table: &str, gym: GymId) -> Result<Vec<String>> {
    let key = if table == "gyms" { "id" } else { "gym_id" };
    let sql = format!("SELECT row_to_json(t)::text AS row FROM {table} t WHERE {key} = $1 ORDER BY t");
    let all = diesel::sql_query(sql).bind::<SqlUuid, _>(gym.0).load::<Json>(conn)?;
    Ok(all.into_iter().filter_map(|j| j.row).collect())
}

/// Writes a hall: a line that says what it is, then a line for each row. How many rows.
///
/// # Errors
/// `NotFound` for no hall; when the file cannot be written.
pub fn export(conn: &mut PgConnection, gym: GymId, out: &mut impl Write) -> Result<usize> {
    let hall = crate::gym::find(conn, gym)?.name;
    conn.build_transaction().repeatable_read().read_only().run(|conn| {
        let head = Head {
            file: FILE.to_owned(),
            schema: schema(conn)?,
            gym,
            hall,
            caution: CAUTION.to_owned(),
            private: PRIVATE.map(str::to_owned).to_vec(),
        };
        write_line(out, &serde_json::to_string(&head)?)?;
        let mut n = 0;
        for table in TABLES {
            for row in rows(conn, table, gym)? {
                write_line(out, &format!("{{\"table\":\"{table}\",\"row\":{row}}}"))?;
                n += 1;
            }
        }
        Ok(n)
    })
}

fn write_line(out: &mut impl Write, line: &str) -> Result<()> {
    writeln!(out, "{line}").map_err(|e| no(format!("the file cannot be written: {e}")))
}

/// A line of a row.
#[derive(Deserialize)]
struct Line {
    table: String,
    /// Passed on letter by letter: a figure read and written again may differ in its last digit.
    row: Box<RawValue>,
}

/// The keys of a row.
#[derive(Deserialize)]
struct Keys {
    id: Option<GymId>,
    gym_id: Option<GymId>,
}

/// The hall of a row: of the row of halls it is its own key.
fn whose(line: &Line) -> Option<GymId> {
    let keys: Keys = serde_json::from_str(line.row.get()).ok()?;
    if line.table == "gyms" { keys.id } else { keys.gym_id }
}

/// Why a file is not taken, in words.
fn no(words: impl Into<String>) -> StoreError {
    StoreError::File(words.into())
}

/// Reads a hall from a file into this database, whole or not at all. Its name and how many rows.
///
/// # Errors
/// `Taken` where the hall, or somebody's e-mail, is there already; in words where the file is none, or of another version.
pub fn import(conn: &mut PgConnection, file: impl BufRead) -> Result<(String, usize)> {
    let mut lines = file.lines();
    let first = lines.next().and_then(|l| l.ok()).unwrap_or_default();
    let head: Head = serde_json::from_str(&first)
        .ok()
        .filter(|h: &Head| h.file == FILE)
        .ok_or_else(|| no("this file is no hall: it was not written by hall export"))?;
    let here = schema(conn)?;
    if head.schema != here {
        return Err(no(format!(
            "this file is of schema {}, the database of {here}: read it with the version that wrote it, then upgrade",
            head.schema
        )));
    }
    conn.transaction(|conn| {
        let (mut batch, mut of, mut n): (Vec<Box<RawValue>>, String, usize) = Default::default();
        for (i, line) in lines.enumerate() {
            let line = line.map_err(|e| no(format!("line {} cannot be read: {e}", i + 2)))?;
            let line: Line =
                serde_json::from_str(&line).map_err(|e| no(format!("line {} is no row: {e}", i + 2)))?;
            if whose(&line) != Some(head.gym) {
                return Err(no(format!("line {} is of another hall", i + 2)));
            }
            if !TABLES.contains(&line.table.as_str()) {
                return Err(no(format!("line {} is of “{}”, which a hall has not", i + 2, line.table)));
            }
            if line.table != of || batch.len() >= BATCH {
                put(conn, head.gym, &of, &mut batch)?;
            }
            of = line.table;
            batch.push(line.row);
            n += 1;
        }
        put(conn, head.gym, &of, &mut batch)?;
        Ok((head.hall, n))
    })
}

/// Puts rows into a table, and empties the list.
fn put(conn: &mut PgConnection, gym: GymId, table: &str, rows: &mut Vec<Box<RawValue>>) -> Result<()> {
    if rows.is_empty() {
        return Ok(());
    }
    let all = serde_json::to_string(&std::mem::take(rows))?;
    // the name is one of ours: it was looked up in the list
    let sql = format!("INSERT INTO {table} SELECT * FROM json_populate_recordset(NULL::{table}, $1::json)");
    diesel::sql_query(sql).bind::<Text, _>(all).execute(conn)?;
    if table == "members" {
        // the days on which they trained are counted again, as their results come in
        diesel::sql_query("UPDATE members SET days = 0 WHERE gym_id = $1")
            .bind::<SqlUuid, _>(gym.0)
            .execute(conn)?;
    }
    Ok(())
}
