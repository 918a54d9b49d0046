//! `honest-lantern simulate SHEET --member NAME`: one run of every workout on a sheet, with `--trace` everything that
//! happens on the clock as CSV.

use super::plan::members;
use super::read::say_problems;
use super::{Done, print, text_of};
use chrono::NaiveDate;
use lantern_core::plan::{Strategy, TraceRow, traced_run};
use lantern_core::roster::{Member, ability};
use lantern_core::sheet::read;
use lantern_core::units::clock;
use lantern_core::versions::Work;
use std::path::PathBuf;
use std::process::ExitCode;

/// Arguments.
#[derive(clap::Args)]
pub struct Args {
    /// A session sheet, or - for standard input.
    sheet: PathBuf,
    /// A model member (`regular heavier`), or one of the roster.
    #[arg(long)]
    member: String,
    /// Members as CSV; without it the model members.
    #[arg(long)]
    roster: Option<PathBuf>,
    /// even, hot, unbroken, singles, or sets:8-7.
    #[arg(long, default_value = "even", value_parser = Strategy::read)]
    strategy: Strategy,
    /// Day of the run, for the age of tests; without it today.
    #[arg(long)]
    date: Option<NaiveDate>,
    /// Every set, break, rest and change on the clock, as CSV.
    #[arg(long)]
    trace: bool,
}

/// Runs it: 0 without problems in the sheet, 1 with some, 2 for a file that cannot be read.
pub fn run(args: &Args) -> Done {
    let reading = read(&text_of(&args.sheet)?);
    say_problems(&args.sheet.display().to_string(), &reading);
    let all = members(args.roster.as_deref(), args.roster.is_none())?;
    let member = find(&all, &args.member)?;
    let date = args.date.or(reading.sheet.date).unwrap_or_else(|| chrono::Local::now().date_naive());
    let ability = ability(member, date);
    let mut ran = false;
    if args.trace {
        print("block,from_s,to_s,what,round,line,movement,units,unit\n");
    }
    for (i, block) in reading.sheet.blocks.iter().enumerate().filter(|(_, b)| b.on_the_clock()) {
        let work = match Work::from_block(block) {
            Ok(work) => work,
            Err(why) => {
                eprintln!("honest-lantern: {why}");
                continue;
            }
        };
        ran = true;
        let run = traced_run(&work, member.standard, &ability, block.cap_s.map(f64::from), &args.strategy);
        if args.trace {
            for row in &run.rows {
                print(&csv(i, row));
            }
            continue;
        }
        let [work_s, break_s, rest_s, change_s] = run.seconds.map(clock);
        print(&format!(
            "{}: {} in {} sets; {work_s} of work, {break_s} of breaks, {rest_s} of rest, {change_s} of changes\n",
            block.name.as_deref().unwrap_or("Workout"),
            run.result,
            run.sets
        ));
    }
    if !ran {
        return Err(
            "There is no workout on a clock on this sheet. Write, say, 3 rounds for time and its lines."
                .to_owned(),
        );
    }
    Ok(ExitCode::from(u8::from(reading.has_errors())))
}

fn find<'a>(all: &'a [Member], name: &str) -> Result<&'a Member, String> {
    all.iter().find(|m| m.name.eq_ignore_ascii_case(name.trim())).ok_or_else(|| {
        let names: Vec<&str> = all.iter().map(|m| m.name.as_str()).collect();
        format!("There is no member “{name}”. There are: {}.", names.join(", "))
    })
}

fn csv(block: usize, r: &TraceRow) -> String {
    let line = r.line.map_or_else(String::new, |l| (l + 1).to_string());
    let units = if r.units > 0.0 { r.units.to_string() } else { String::new() };
    format!(
        "{},{:.1},{:.1},{},{},{line},{},{units},{}\n",
        block + 1,
        r.from_s,
        r.to_s,
        r.what,
        r.round + 1,
        r.movement,
        r.unit
    )
}
