//! Pacing and finish times: a member's local reserves and engine through a workout, rep by rep; even effort,
//! set breaks, and the range of results over many runs. Times in seconds, loads in kilograms.

mod athlete;
mod forecast;
mod interpret;
pub mod params;
mod policy;
pub mod reserve;
mod run;
mod simulate;
pub mod table;
mod task;
mod workout;

pub use athlete::{Athlete, Level};
pub use forecast::{Forecast, Known, forecast, hidden_truth, one_result};
pub use policy::{Policy, SetPlan};
pub use run::{Run, best_pacing, fit_tests, settle, simulate, simulate_tasks, tasks_for};
pub use simulate::SetDone;
pub use task::{Pace, Task, most_reps, resolve};
pub use workout::{Node, Scored, Workout};

#[cfg(test)]
mod tests;
