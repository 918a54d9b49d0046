//! `honest-lantern migrate`: brings the database to this version's schema.

use super::Done;
use crate::settings::Overrides;
use std::process::ExitCode;

/// Arguments.
#[derive(clap::Args)]
pub struct Args {
    #[command(flatten)]
    overrides: Overrides,
}

/// Runs it.
pub fn run(args: &Args) -> Done {
    let settings = args.overrides.settings()?;
    let mut conn = lantern_store::connect_one(&settings.database_url).map_err(|e| e.to_string())?;
    lantern_store::migrate(&mut conn).map_err(|e| e.to_string())?;
    Ok(ExitCode::SUCCESS)
}
