//! `honest-lantern read FILE`: what a sheet says, and its problems in a form that editors understand.

use super::{Done, print, text_of};
use clap::ValueEnum;
use lantern_core::sheet::{Reading, Severity, answer, print as print_sheet, read};
use std::path::PathBuf;
use std::process::ExitCode;

/// How to answer.
#[derive(Clone, Copy, ValueEnum)]
pub enum Format {
    /// One object, for programs.
    Json,
    /// The sheet in its canonical form.
    Text,
}

/// Arguments.
#[derive(clap::Args)]
pub struct Args {
    /// A session sheet, or - for standard input.
    file: PathBuf,
    /// How to answer.
    #[arg(long, value_enum, default_value = "text")]
    format: Format,
}

/// Runs it: 0 without errors, 1 with some, 2 for a file that cannot be read.
pub fn run(args: &Args) -> Done {
    let reading = read(&text_of(&args.file)?);
    match args.format {
        Format::Json => {
            let json = serde_json::to_string_pretty(&answer(&reading)).map_err(|e| e.to_string())?;
            print(&format!("{json}\n"));
        }
        Format::Text => print(&print_sheet(&reading.sheet)),
    }
    say_problems(&args.file.display().to_string(), &reading);
    Ok(ExitCode::from(u8::from(reading.has_errors())))
}

/// Problems on standard error: `FILE:LINE:COLUMN: error: message`.
pub fn say_problems(file: &str, reading: &Reading) {
    for p in &reading.problems {
        let word = if p.severity == Severity::Error { "error" } else { "warning" };
        eprintln!("{file}:{}:{}: {word}: {}", p.line, p.column, p.message);
    }
}
