//! `honest-lantern demo`: loads Ropewalk Hall once, and says how to sign in.

use super::{Done, print};
use crate::demo;
use crate::settings::Overrides;
use chrono::{NaiveDate, NaiveDateTime};
use std::process::ExitCode;

/// Arguments.
#[derive(clap::Args)]
pub struct Args {
    #[command(flatten)]
    overrides: Overrides,
    /// Load it as if this were today.
    #[arg(long)]
    today: Option<NaiveDate>,
}

/// Runs it.
pub fn run(args: &Args) -> Done {
    let settings = args.overrides.settings()?;
    let mut conn = lantern_store::connect_one(&settings.database_url).map_err(|e| e.to_string())?;
    lantern_store::migrate(&mut conn).map_err(|e| e.to_string())?;
    let now: NaiveDateTime = match args.today {
        Some(d) => d.and_hms_opt(12, 0, 0).unwrap_or_default(),
        None => chrono::Local::now().naive_local(),
    };
    let loaded = demo::load(&mut conn, now)?;
    let words = if loaded { "loaded" } else { "was loaded before" };
    print(&format!("The demo hall {words}. Sign in with {} and {}\n", demo::EMAIL, demo::PASSWORD));
    Ok(ExitCode::SUCCESS)
}
