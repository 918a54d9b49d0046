//! The database as a whole: how much is in each table, as a copy of it must have too.

use crate::error::Result;
use diesel::prelude::*;
use diesel::sql_types::{BigInt, Text};
use std::collections::BTreeMap;

/// Rows of every table of ours, by its name.
pub type Rows = BTreeMap<String, i64>;

#[derive(QueryableByName)]
struct Table {
    #[diesel(sql_type = Text)]
    name: String,
}

#[derive(QueryableByName)]
struct Count {
    #[diesel(sql_type = BigInt)]
    n: i64,
}

/// Counts the rows of every table as they stand at one moment.
///
/// # Errors
/// When the database is away.
pub fn rows(conn: &mut PgConnection) -> Result<Rows> {
    conn.build_transaction().repeatable_read().read_only().run(|conn| {
        let tables: Vec<Table> = diesel::sql_query(
            "SELECT quote_ident(tablename) AS name FROM pg_tables WHERE schemaname = 'public' ORDER BY 1",
        )
        .load(conn)?;
        let mut out = Rows::new();
        for t in tables {
            // a name out of the catalogue of the database itself, quoted by it
            let count: Count =
                diesel::sql_query(format!("SELECT count(*) AS n FROM {}", t.name)).get_result(conn)?;
            out.insert(t.name, count.n);
        }
        Ok(out)
    })
}
