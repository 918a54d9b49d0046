//! `honest-lantern serve`: the web application.

use super::Done;
use crate::settings::{Overrides, Settings};
use lantern_web::Config;
use std::net::TcpListener;
use std::process::ExitCode;
use tracing_subscriber::EnvFilter;

/// Bytes of a new secret.
const SECRET_BYTES: usize = 64;

/// Arguments.
#[derive(clap::Args)]
pub struct Args {
    #[command(flatten)]
    overrides: Overrides,
}

/// Runs until it is told to stop.
pub fn run(args: &Args) -> Done {
    let settings = args.overrides.settings()?;
    let filter = EnvFilter::try_from_default_env().unwrap_or_else(|_| EnvFilter::new("info"));
    tracing_subscriber::fmt().with_env_filter(filter).with_writer(std::io::stderr).init();
    let mut conn = lantern_store::connect_one(&settings.database_url).map_err(|e| e.to_string())?;
    lantern_store::migrate(&mut conn).map_err(|e| e.to_string())?;
    lantern_store::record::try_again(&mut conn).map_err(|e| e.to_string())?;
    let set_up_code = match lantern_store::gym::any(&mut conn) {
        Ok(true) => None,
        Ok(false) => Some(code()),
        Err(e) => return Err(e.to_string()),
    };
    if let Some(code) = &set_up_code {
        let at = settings.listen;
        super::print(&format!("There is no hall yet. Open http://{at}/set-up and give this code: {code}\n"));
    }
    drop(conn);
    // one more hears of clocks
    let connections = settings.connections.saturating_add(1);
    let pool = lantern_store::connect(&settings.database_url, connections).map_err(|e| e.to_string())?;
    let listener = TcpListener::bind(settings.listen)
        .map_err(|e| format!("{} cannot be used: {e}. Choose another with --listen.", settings.listen))?;
    let config = Config {
        secret: secret(&settings)?,
        secure_cookies: settings.secure_cookies,
        office: settings.mail.as_ref().map(crate::post::office).transpose()?,
        trusted_proxies: settings.trusted_proxies.clone(),
        now: chrono::Utc::now,
        zone: settings.zone()?,
        set_up_code,
    };
    tracing::info!("serving http://{}", settings.listen);
    actix_web::rt::System::new()
        .block_on(lantern_web::serve(listener, pool, config))
        .map_err(|e| format!("the server stopped: {e}"))?;
    Ok(ExitCode::SUCCESS)
}

/// Eight letters and figures that are not mistaken for each other: 40 random bits, and few tries are let through.
fn code() -> String {
    const SIGNS: &[u8; 32] = b"ABCDEFGHJKLMNPQRSTUVWXYZ23456789";
    let random = lantern_store::account::token();
    let bits = u64::from_str_radix(random.get(..10).unwrap_or_default(), 16).unwrap_or_default();
    let sign = |i: u32| SIGNS.get((bits >> (5 * i) & 31) as usize).copied().unwrap_or(b'A') as char;
    let all: String = (0..8).map(sign).collect();
    format!("{}-{}", all.get(..4).unwrap_or_default(), all.get(4..).unwrap_or_default())
}

/// The secret of a file, made when the file is missing, readable by its owner only.
fn secret(settings: &Settings) -> Result<Vec<u8>, String> {
    use std::io::Write;
    use std::os::unix::fs::OpenOptionsExt;
    let path = &settings.secret_file;
    if let Ok(found) = std::fs::read(path) {
        return Ok(found);
    }
    let fresh: String =
        std::iter::repeat_with(lantern_store::account::token).take(SECRET_BYTES / 32).collect();
    std::fs::OpenOptions::new()
        .write(true)
        .create_new(true)
        .mode(0o600)
        .open(path)
        .and_then(|mut f| f.write_all(fresh.as_bytes()))
        .map_err(|e| {
            format!(
                "the secret cannot be kept in {}: {e}. Name another file with --secret-file.",
                path.display()
            )
        })?;
    Ok(fresh.into_bytes())
}
