//! The one program: reads and plans sheets without a database, serves the web application, loads the demo.

use clap::{Parser, Subcommand};
use honest_lantern::commands;
use std::process::ExitCode;

/// Reading and planning make many short-lived small values; this allocator takes a quarter of the time off both.
#[global_allocator]
static ALLOCATOR: mimalloc::MiMalloc = mimalloc::MiMalloc;

/// Plans strength-and-conditioning classes: warm-up, loads, versions, pacing, an hour that adds up.
#[derive(Parser)]
#[command(name = "honest-lantern", version)]
struct Cli {
    #[command(subcommand)]
    command: Command,
}

#[derive(Subcommand)]
enum Command {
    /// Read a session sheet and say what was understood.
    Read(commands::read::Args),
    /// Plan a class from a sheet and a roster.
    Plan(commands::plan::Args),
    /// Run a workout once for one member, on request with everything on the clock.
    Simulate(commands::simulate::Args),
    /// Serve the web application.
    Serve(commands::serve::Args),
    /// Load the demo gym, or say how to sign in when it is loaded.
    Demo(commands::demo::Args),
    /// Add, list and remove halls.
    Hall(commands::hall::Args),
    /// Send bookings and cancellations to a running server, as another program would.
    SendBookings(commands::send_bookings::Args),
    /// Copy everything of every hall into a file.
    Backup(commands::backup::Args),
    /// Bring everything back from such a file, into a database without halls.
    Restore(commands::backup::Args),
    /// Bring the database to this version's schema.
    Migrate(commands::migrate::Args),
}

fn main() -> ExitCode {
    let done = match Cli::parse().command {
        Command::Read(args) => commands::read::run(&args),
        Command::Backup(args) => commands::backup::backup(&args),
        Command::Restore(args) => commands::backup::restore(&args),
        Command::Plan(args) => commands::plan::run(&args),
        Command::Simulate(args) => commands::simulate::run(&args),
        Command::Serve(args) => commands::serve::run(&args),
        Command::Demo(args) => commands::demo::run(&args),
        Command::Hall(args) => commands::hall::run(&args),
        Command::SendBookings(args) => commands::send_bookings::run(&args),
        Command::Migrate(args) => commands::migrate::run(&args),
    };
    match done {
        Ok(code) => code,
        Err(message) => {
            eprintln!("honest-lantern: {message}");
            ExitCode::from(2)
        }
    }
}
