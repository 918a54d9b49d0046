//! Connections and the schema.

use crate::error::{Result, StoreError};
use diesel::connection::SimpleConnection;
use diesel::migration::{MigrationSource, MigrationVersion};
use diesel::pg::Pg;
use diesel::r2d2::{ConnectionManager, CustomizeConnection, PooledConnection};
use diesel::{Connection as _, PgConnection};
use diesel_migrations::{EmbeddedMigrations, MigrationHarness, embed_migrations};
use std::time::Duration;

const MIGRATIONS: EmbeddedMigrations = embed_migrations!("migrations");
/// How long a request waits for a connection.
const WAIT: Duration = Duration::from_secs(5);

/// Shared connections of a process.
#[derive(Clone)]
pub struct Pool(diesel::r2d2::Pool<ConnectionManager<PgConnection>>);

/// One connection of the pool.
pub type Connection = PooledConnection<ConnectionManager<PgConnection>>;

/// A connection outside the pool.
pub type PlainConnection = PgConnection;

/// Runs several changes as one: all of them or none.
///
/// # Errors
/// The first change that failed; nothing was changed then.
pub fn in_one_step<T>(
    conn: &mut PgConnection,
    work: impl FnOnce(&mut PgConnection) -> Result<T>,
) -> Result<T> {
    conn.transaction(work)
}

/// No statement of a page runs, and no page waits for another's row, for longer than a coach does.
#[derive(Debug)]
struct Bounded;

impl CustomizeConnection<PgConnection, diesel::r2d2::Error> for Bounded {
    fn on_acquire(&self, conn: &mut PgConnection) -> std::result::Result<(), diesel::r2d2::Error> {
        conn.batch_execute("SET statement_timeout = '20s'; SET lock_timeout = '5s'")
            .map_err(diesel::r2d2::Error::QueryError)
    }
}

impl Pool {
    /// A connection.
    ///
    /// # Errors
    /// When none is free within five seconds or the database is away.
    pub fn get(&self) -> Result<Connection> {
        self.0.get().map_err(|e| StoreError::Away(e.to_string()))
    }

    /// Connections that are open, and how many of them wait for work.
    pub fn connections(&self) -> (u32, u32) {
        let state = self.0.state();
        (state.connections, state.idle_connections)
    }
}

/// Opens a pool of `size` connections.
///
/// # Errors
/// When the database cannot be reached.
pub fn connect(url: &str, size: u32) -> Result<Pool> {
    diesel::r2d2::Pool::builder()
        .max_size(size.max(1))
        .connection_timeout(WAIT)
        .test_on_check_out(true)
        .connection_customizer(Box::new(Bounded))
        .build(ConnectionManager::new(url))
        .map(Pool)
        .map_err(|e| StoreError::Away(e.to_string()))
}

/// Opens a single connection.
///
/// # Errors
/// When the database cannot be reached.
pub fn connect_one(url: &str) -> Result<PgConnection> {
    PgConnection::establish(url).map_err(|e| StoreError::Away(e.to_string()))
}

/// Brings the database to the newest schema.
///
/// # Errors
/// Names the migration that failed.
pub fn migrate(conn: &mut PgConnection) -> Result<()> {
    conn.run_pending_migrations(MIGRATIONS).map(|_| ()).map_err(|e| StoreError::Failed(e.to_string()))
}

/// Whether the database has changes of its schema that this version does not know.
///
/// # Errors
/// When the database is away.
pub fn unknown_schema(conn: &mut PgConnection) -> Result<bool> {
    let failed = |e: Box<dyn std::error::Error + Send + Sync>| StoreError::Failed(e.to_string());
    let ours: Vec<_> = MigrationSource::<Pg>::migrations(&MIGRATIONS).map_err(failed)?;
    let known = |v: &MigrationVersion| ours.iter().any(|m| m.name().version() == *v);
    Ok(!conn.applied_migrations().map_err(failed)?.iter().all(known))
}

/// Takes the schema back to nothing.
///
/// # Errors
/// Names the migration that failed.
pub fn revert_all(conn: &mut PgConnection) -> Result<()> {
    conn.revert_all_migrations(MIGRATIONS).map(|_| ()).map_err(|e| StoreError::Failed(e.to_string()))
}
