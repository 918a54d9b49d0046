//! `honest-lantern plan SHEET`: a whole class from a sheet, a roster and a kit, without a database.

use super::read::say_problems;
use super::{Done, print, text_of};
use chrono::NaiveDate;
use clap::ValueEnum;
use lantern_core::kit::Kit;
use lantern_core::plan::{
    Class, ClassPlan, Forgetful, Gives, Options, PlanOf, Stopped, answer, fitting, plan, text, text_of_ways,
    weigh,
};
use lantern_core::roster::{Member, read_csv};
use lantern_core::settings::Settings;
use lantern_core::sheet::read;
use std::path::{Path, PathBuf};
use std::process::ExitCode;

/// How to answer.
#[derive(Clone, Copy, ValueEnum)]
pub enum Format {
    /// One object, for programs.
    Json,
    /// For people.
    Text,
}

/// Arguments.
#[derive(clap::Args)]
pub struct Args {
    /// A session sheet, or - for standard input.
    sheet: PathBuf,
    /// Members as CSV (see docs/sheet.md, "Roster files").
    #[arg(long)]
    roster: Option<PathBuf>,
    /// The gym's kit as TOML; without it a usual hall is assumed.
    #[arg(long)]
    kit: Option<PathBuf>,
    /// Results of earlier classes as CSV (date, sheet, member, version, result, capped): forecasts learn from them.
    #[arg(long)]
    results: Option<PathBuf>,
    /// Day of the class; without it the sheet's date, else today.
    #[arg(long)]
    date: Option<NaiveDate>,
    /// Plan for eight model members instead of a roster.
    #[arg(long)]
    archetypes: bool,
    /// Everybody at Full, unscaled.
    #[arg(long)]
    as_written: bool,
    /// Runs of each range.
    #[arg(long, default_value_t = 96, value_parser = clap::value_parser!(u32).range(1..=10_000))]
    runs: u32,
    /// Seed of all draws.
    #[arg(long, default_value_t = 1)]
    seed: u64,
    /// Ways to make the day fit its hour and its kit, behind the plan as text.
    #[arg(long)]
    ways: bool,
    /// How to answer.
    #[arg(long, value_enum, default_value = "text")]
    format: Format,
}

/// Runs it: 0 without problems in the sheet, 1 with some, 2 for a file that cannot be read.
pub fn run(args: &Args) -> Done {
    let reading = read(&text_of(&args.sheet)?);
    say_problems(&args.sheet.display().to_string(), &reading);
    let kit = match &args.kit {
        Some(path) => Kit::from_toml(&text_of(path)?)?,
        None => Kit::usual(),
    };
    let date = args.date.or(reading.sheet.date).unwrap_or_else(|| chrono::Local::now().date_naive());
    let options = Options { as_written: args.as_written, runs: args.runs, seed: args.seed };
    let mut members = members(args.roster.as_deref(), args.archetypes)?;
    if let Some(path) = &args.results {
        let learner = super::results::learnt(path, &members, &kit, options, date)?;
        members.iter_mut().for_each(|m| m.learnt = learner.of(&m.id, date));
    }
    let class = Class { members, kit, date, length_s: None, recent_drills: Vec::new(), cycles: Vec::new() };
    let settings = Settings::default();
    let made = plan(&reading.sheet, &class, &settings, &[], options);
    match args.format {
        Format::Text => {
            print(&text(&made));
            if args.ways {
                let of = PlanOf {
                    sheet: &reading.sheet,
                    class: &class,
                    settings: &settings,
                    decisions: &[],
                    options,
                };
                print(&ways_of(&of, &made)?);
            }
        }
        Format::Json => {
            let mut value = serde_json::to_value(answer(&made)).map_err(|e| e.to_string())?;
            let problems = reading.problems.iter().map(|p| format!("line {}: {}", p.line, p.message));
            if let Some(list) = value.get_mut("problems").and_then(|p| p.as_array_mut()) {
                list.extend(problems.map(serde_json::Value::String));
            }
            print(&format!("{}\n", serde_json::to_string_pretty(&value).map_err(|e| e.to_string())?));
        }
    }
    Ok(ExitCode::from(u8::from(reading.has_errors())))
}

/// Ways to make a day fit, weighed, as text.
fn ways_of(of: &PlanOf, made: &ClassPlan) -> Result<String, String> {
    let (now, words) = (Gives::of(made), |e: Stopped| e.to_string());
    let ways = weigh(of, made, &Forgetful).map_err(words)?;
    let together = fitting(of, &now, &ways, &Forgetful).map_err(words)?;
    Ok(format!("\nWays to make it fit\n{}", text_of_ways(&now, &ways, together.as_ref())))
}

/// The members of a roster file, or the model members.
pub fn members(roster: Option<&Path>, archetypes: bool) -> Result<Vec<Member>, String> {
    if archetypes {
        return Ok(Member::archetypes());
    }
    let Some(path) = roster else {
        return Err("Say for whom: --roster FILE.csv, or --archetypes for eight model members.".to_owned());
    };
    let roster = read_csv(&text_of(path)?);
    for p in &roster.problems {
        eprintln!("{}:{}: warning: {}: {}", path.display(), p.line, p.column, p.message);
    }
    Ok(roster.members)
}
