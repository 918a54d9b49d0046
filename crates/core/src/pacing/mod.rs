//! Pacing and finish times: a member's local reserves and engine through a workout, rep by rep; even effort,
//! set breaks, and the range of results over many runs. Times in seconds, loads in kilograms.

mod athlete;
mod forecast;
mod interpret;
mod machines;
mod math;
pub mod params;
mod policy;
mod rep;
pub mod reserve;
mod run;
mod search;
mod sets;
mod state;
pub mod table;
mod task;
mod team;
mod trace;
mod workout;

pub use athlete::{Athlete, Level};
pub use forecast::{Forecast, Known, forecast, forecast_judged, hidden_truth};
pub(crate) use machines::engine_of_one;
pub use machines::{MACHINES, all_out, equal};
pub(crate) use math::{Z80, exp, ln, pow};
pub use policy::{Force, Policy, SetPlan, Style, Swayed};
pub use run::{Run, fit_tests, settle, simulate, simulate_tasks, tasks_for};
pub use search::{best_pacing, best_pacing_in};
pub use task::{Pace, Task, most_reps, resolve};
pub use team::{TeamRun, simulate_partners, simulate_team};
pub use trace::{Did, Span, Steadiness};
pub use workout::{Amount, Asked, Node, Scored, Shared, Station, Workout};

#[cfg(test)]
mod tests;
