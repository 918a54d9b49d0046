//! `honest-lantern hall`: halls made, listed, carried and removed in a shell.

use super::{Done, print};
use crate::settings::Overrides;
use chrono_tz::Tz;
use clap::Subcommand;
use lantern_core::kit::Preset;
use lantern_core::people;
use lantern_core::settings::Settings;
use lantern_core::sheet::WeightUnit;
use lantern_store::account::Secret;
use lantern_store::gym::{New, Row, found, list, remove};
use lantern_store::{GymId, PlainConnection, StoreError, carry};
use std::io::{Read, Write};
use std::path::{Path, PathBuf};
use std::process::ExitCode;

/// Arguments.
#[derive(clap::Args)]
pub struct Args {
    #[command(flatten)]
    overrides: Overrides,
    #[command(subcommand)]
    what: What,
}

#[derive(Subcommand)]
enum What {
    /// Add a hall with its owner; the password is read from standard input.
    Add {
        /// Name of the hall.
        name: String,
        /// Place.
        #[arg(long, default_value = "")]
        place: String,
        /// Time zone, say Europe/Dublin; the server's without.
        #[arg(long)]
        zone: Option<Tz>,
        /// E-mail of the owner.
        #[arg(long)]
        email: String,
        /// Name of the owner.
        #[arg(long)]
        owner: String,
        /// Kit to begin counting from: small, usual or large.
        #[arg(long, default_value = "usual")]
        kit: String,
        /// Bars, plates and implements are marked in pounds.
        #[arg(long)]
        pounds: bool,
    },
    /// List the halls.
    List,
    /// Write a hall into a file: all that is its own, limits of members too. It is not written over another file.
    Export {
        /// Its key or its whole name, as `hall list` shows them.
        hall: String,
        /// The file.
        #[arg(long)]
        to: PathBuf,
    },
    /// Read a hall from such a file into this database, whole or not at all.
    Import {
        /// The file.
        file: PathBuf,
    },
    /// Remove a hall with all that is its own: members, classes, results, accounts. There is no way back.
    Remove {
        /// Its key or its whole name, as `hall list` shows them.
        hall: String,
        /// Remove it; without this it is only said what would go.
        #[arg(long)]
        yes: bool,
    },
}

/// Runs it.
pub fn run(args: &Args) -> Done {
    let settings = args.overrides.settings()?;
    let mut conn = lantern_store::connect_one(&settings.database_url).map_err(|e| e.to_string())?;
    lantern_store::migrate(&mut conn).map_err(|e| e.to_string())?;
    match &args.what {
        What::Add { name, place, zone, email, owner, kit, pounds } => {
            add(&mut conn, (name, place, *zone), (email, owner), (kit, *pounds))?;
        }
        What::List => {
            let all = list(&mut conn).map_err(|e| e.to_string())?;
            all.iter().for_each(|r| print(&said(r)));
            if all.is_empty() {
                print(
                    "There is no hall. Add one with honest-lantern hall add, or open /set-up of a running server.\n",
                );
            }
        }
        What::Export { hall, to } => export(&mut conn, hall, to)?,
        What::Import { file } => import(&mut conn, file)?,
        What::Remove { hall, yes } => gone(&mut conn, hall, *yes)?,
    }
    Ok(ExitCode::SUCCESS)
}

fn said(r: &Row) -> String {
    let place = if r.place.is_empty() { String::new() } else { format!(", {}", r.place) };
    let demo = if r.demo { " (demo)" } else { "" };
    format!("{}  {}{place}{demo}: {} members, {} classes\n", r.id, r.name, r.members, r.classes)
}

fn add(
    conn: &mut PlainConnection,
    (name, place, zone): (&str, &str, Option<Tz>),
    (email, owner): (&str, &str),
    (kit, pounds): (&str, bool),
) -> Result<(), String> {
    let preset =
        Preset::read(kit).ok_or_else(|| format!("there is no kit “{kit}”. Write small, usual or large."))?;
    let (Some(name), Some(owner), Some(email)) =
        (people::name(name), people::name(owner), people::email(email))
    else {
        return Err(
            "a hall needs a name, an owner's name (at most 80 characters each) and an owner's e-mail."
                .to_owned(),
        );
    };
    let there = list(conn).map_err(|e| e.to_string())?;
    if there.iter().any(|r| r.name == name) {
        return Err(format!("a hall called {name} is there already. Give this one another name."));
    }
    let mut password = String::new();
    let read = std::io::stdin().read_to_string(&mut password);
    read.map_err(|e| format!("the password cannot be read: {e}. Write it to standard input."))?;
    let password = password.trim_end_matches(['\r', '\n']);
    people::check(password, &[&name, place, &email, &owner]).map_err(|weak| weak.to_string())?;
    let unit = if pounds { WeightUnit::Lb } else { WeightUnit::Kg };
    let new = New {
        name: &name,
        place: place.trim(),
        zone,
        week_from: chrono::Weekday::Mon,
        settings: &Settings::default(),
        kit: &preset.kit(unit),
        owner: (&email, &owner),
        password: &Secret::of(password).map_err(|e| e.to_string())?,
    };
    let (id, _) = found(conn, &new, false).map_err(|e| e.to_string())?;
    print(&format!("{id}  {} is there. {email} signs in to it.\n", name));
    Ok(())
}

/// The one hall of a key or a name.
fn one<'a>(all: &'a [Row], hall: &str) -> Result<&'a Row, String> {
    let key = hall.parse::<GymId>().ok();
    let fits: Vec<&Row> = all.iter().filter(|r| Some(r.id) == key || r.name == hall).collect();
    match fits.as_slice() {
        [r] => Ok(r),
        [] => Err(format!("there is no hall “{hall}”. honest-lantern hall list shows them.")),
        _ => Err(format!("several halls are called “{hall}”. Give the key of one.")),
    }
}

fn export(conn: &mut PlainConnection, hall: &str, to: &Path) -> Result<(), String> {
    use std::os::unix::fs::OpenOptionsExt;
    let all = list(conn).map_err(|e| e.to_string())?;
    let r = one(&all, hall)?;
    // whoever owns the file reads it, and nobody else
    let file = std::fs::OpenOptions::new().write(true).create_new(true).mode(0o600).open(to);
    let file = file.map_err(|e| format!("{} cannot be written: {e}. Name another file.", to.display()))?;
    let mut out = std::io::BufWriter::new(file);
    let written = carry::export(conn, r.id, &mut out).map_err(|e| e.to_string());
    let written = written.and_then(|n| out.flush().map(|()| n).map_err(|e| e.to_string()));
    let n = written.inspect_err(|_| drop(std::fs::remove_file(to)))?;
    print(&format!(
        "{n} rows of {} are in {}. Members' limits are among them: keep it as such.\n",
        r.name,
        to.display()
    ));
    Ok(())
}

fn import(conn: &mut PlainConnection, from: &Path) -> Result<(), String> {
    let file = std::fs::File::open(from)
        .map_err(|e| format!("{} cannot be read: {e}. Name a file of hall export.", from.display()))?;
    match carry::import(conn, std::io::BufReader::new(file)) {
        Ok((name, n)) => print(&format!("{name} is there: {n} rows.\n")),
        Err(StoreError::Taken(_)) => {
            return Err("this hall, or somebody's e-mail in it, is in this database already. Nothing was changed; hall list shows what is there.".to_owned());
        }
        Err(e) => return Err(format!("{}: {e}. Nothing was changed.", from.display())),
    }
    Ok(())
}

fn gone(conn: &mut PlainConnection, hall: &str, yes: bool) -> Result<(), String> {
    let all = list(conn).map_err(|e| e.to_string())?;
    let r = one(&all, hall)?;
    if !yes {
        print(&format!("This would go for good: {}Say it again with --yes to remove it.\n", said(r)));
        return Ok(());
    }
    remove(conn, r.id).map_err(|e| e.to_string())?;
    print(&format!("Removed: {}", said(r)));
    Ok(())
}
