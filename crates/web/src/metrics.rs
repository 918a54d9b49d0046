//! What the server counts about itself, in the text that Prometheus reads. Nothing of people or halls is in it.

use lantern_store::Pool;
use prometheus::{
    Encoder, Histogram, HistogramOpts, IntCounter, IntCounterVec, IntGauge, IntGaugeVec, Opts, Registry,
    TextEncoder,
};

/// Seconds up to which answers and plans are counted together.
const BUCKETS: [f64; 9] = [0.005, 0.01, 0.025, 0.05, 0.1, 0.25, 0.5, 1.0, 5.0];

/// All that is counted.
pub struct Metrics {
    registry: Registry,
    /// Answers, by the hundreds of their status.
    pub answers: IntCounterVec,
    /// s from a request to its answer.
    pub answer_s: Histogram,
    pool: IntGaugeVec,
    walls: IntGauge,
}

/// What is counted about plans.
pub struct PlanCounts {
    /// Found as made lately.
    pub found: IntCounter,
    /// Made.
    pub made: IntCounter,
    /// Made while a change held its connection: each is a plan that should have been made before.
    pub in_change: IntCounter,
    /// Given up because nobody waited any more.
    pub given_up: IntCounter,
    /// s to make one.
    pub made_s: Histogram,
}

fn counter(of: &Registry, name: &str, help: &str) -> prometheus::Result<IntCounter> {
    let c = IntCounter::new(name, help)?;
    of.register(Box::new(c.clone()))?;
    Ok(c)
}

fn histogram(of: &Registry, name: &str, help: &str) -> prometheus::Result<Histogram> {
    let h = Histogram::with_opts(HistogramOpts::new(name, help).buckets(BUCKETS.to_vec()))?;
    of.register(Box::new(h.clone()))?;
    Ok(h)
}

impl Metrics {
    /// Everything at nothing.
    ///
    /// # Errors
    /// Where two bear one name.
    pub fn new() -> prometheus::Result<(Metrics, PlanCounts)> {
        let r = Registry::new();
        let answers =
            IntCounterVec::new(Opts::new("lantern_answers_total", "Answers by status."), &["status"])?;
        r.register(Box::new(answers.clone()))?;
        let pool =
            IntGaugeVec::new(Opts::new("lantern_connections", "Connections to the database."), &["state"])?;
        r.register(Box::new(pool.clone()))?;
        let walls = IntGauge::new("lantern_walls", "Screens that follow a class's clock.")?;
        r.register(Box::new(walls.clone()))?;
        let plans = PlanCounts {
            found: counter(&r, "lantern_plans_found_total", "Plans that were made lately.")?,
            made: counter(&r, "lantern_plans_made_total", "Plans that were made.")?,
            in_change: counter(&r, "lantern_plans_in_changes_total", "Plans made while a change waited.")?,
            given_up: counter(&r, "lantern_plans_given_up_total", "Plans that nobody waited for any more.")?,
            made_s: histogram(&r, "lantern_plan_seconds", "Seconds to make a plan.")?,
        };
        let answer_s = histogram(&r, "lantern_answer_seconds", "Seconds from a request to its answer.")?;
        Ok((Metrics { registry: r, answers, answer_s, pool, walls }, plans))
    }

    /// All of it as text; `walls`: screens that follow a class's clock.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn text(&self, pool: &Pool, walls: usize) -> prometheus::Result<String> {
        let (open, idle) = pool.connections();
        self.pool.with_label_values(&["idle"]).set(idle.into());
        self.pool.with_label_values(&["busy"]).set(open.saturating_sub(idle).into());
        self.walls.set(i64::try_from(walls).unwrap_or(i64::MAX));
        let mut out = Vec::new();
        TextEncoder::new().encode(&self.registry.gather(), &mut out)?;
        Ok(String::from_utf8_lossy(&out).into_owned())
    }
}
