//! A database of its own for each test, made from a migrated template and dropped at the end. For tests only.
#![allow(clippy::expect_used)] // a test without its database must fail loudly

use crate::{GymId, Pool, SessionId, connect, connect_one, migrate};
use diesel::{PgConnection, RunQueryDsl, sql_query};
use std::sync::Once;

/// Variable with the address of a server on which databases may be made; `bin/test` sets it.
pub const SERVER: &str = "HL_TEST_SERVER";

static TEMPLATE: Once = Once::new();

/// A database that lives as long as this value.
pub struct TestDatabase {
    name: String,
    url: String,
}

fn server() -> String {
    std::env::var(SERVER)
        .expect("HL_TEST_SERVER is not set: run bin/test, which starts a database for the tests")
}

fn template() -> String {
    format!("hl_template_{}", std::process::id())
}

impl TestDatabase {
    /// A fresh one with the newest schema.
    pub fn new() -> TestDatabase {
        let admin = format!("{}/postgres", server());
        TEMPLATE.call_once(|| {
            let mut conn = connect_one(&admin).expect("server answers");
            sql_query(format!("CREATE DATABASE {}", template()))
                .execute(&mut conn)
                .expect("template is made");
            let mut conn = connect_one(&format!("{}/{}", server(), template())).expect("template answers");
            migrate(&mut conn).expect("schema is made");
        });
        let name = format!("hl_{}", uuid::Uuid::now_v7().simple());
        let mut conn = connect_one(&admin).expect("server answers");
        // making a database reads its template alone: tests that start together take turns
        sql_query("SELECT pg_advisory_lock(7141)").execute(&mut conn).expect("turn");
        sql_query(format!("CREATE DATABASE {name} TEMPLATE {}", template()))
            .execute(&mut conn)
            .expect("database is made");
        TestDatabase { url: format!("{}/{name}", server()), name }
    }

    /// Its address.
    pub fn url(&self) -> &str {
        &self.url
    }

    /// A pool on it.
    pub fn pool(&self) -> Pool {
        connect(&self.url, 4).expect("database answers")
    }

    /// One connection to it.
    pub fn conn(&self) -> PgConnection {
        connect_one(&self.url).expect("database answers")
    }
}

impl Default for TestDatabase {
    fn default() -> TestDatabase {
        TestDatabase::new()
    }
}

impl Drop for TestDatabase {
    fn drop(&mut self) {
        if let Ok(mut conn) = connect_one(&format!("{}/postgres", server())) {
            let _ =
                sql_query(format!("DROP DATABASE IF EXISTS {} WITH (FORCE)", self.name)).execute(&mut conn);
        }
    }
}

/// Saves another text as a session's sheet, whatever version it has.
///
/// # Errors
/// As [`crate::sheet::save`].
pub fn set_sheet(conn: &mut PgConnection, gym: GymId, id: SessionId, text: &str) -> crate::error::Result<()> {
    let before = crate::sheet::find(conn, gym, id)?;
    let nobody = crate::ids::AccountId::fresh();
    crate::sheet::save(conn, (gym, nobody), id, (text, &before.blocks), before.version)
}

/// Lets the wall's clock of a class run ahead by so many seconds, as time does.
///
/// # Errors
/// When the database is away.
pub fn run_ahead(
    conn: &mut PgConnection,
    class: crate::ids::ClassId,
    seconds: i32,
) -> crate::error::Result<()> {
    use diesel::sql_types::{Integer, Uuid as SqlUuid};
    sql_query(
        "UPDATE classes SET clock_started_at = clock_started_at - make_interval(secs => $1) WHERE id = $2",
    )
    .bind::<Integer, _>(seconds)
    .bind::<SqlUuid, _>(class.0)
    .execute(conn)?;
    Ok(())
}

/// Signs everybody of a hall out, as time does.
///
/// # Errors
/// When the database is away.
pub fn sign_everybody_out(conn: &mut PgConnection, gym: GymId) -> crate::error::Result<usize> {
    use crate::schema::sign_ins;
    use diesel::prelude::*;
    Ok(diesel::delete(sign_ins::table.filter(sign_ins::gym_id.eq(gym.0))).execute(conn)?)
}
