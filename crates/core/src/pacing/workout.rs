//! A workout as the simulator runs it: a tree of work over a list of tasks (movement row and load).

/// What the score of a workout is.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Scored {
    /// Seconds until done.
    Time,
    /// Units of work counted.
    Reps,
    /// Least rest left in a cycle, seconds.
    Margin,
}

/// One node of the tree; times in seconds.
#[derive(Debug, Clone, PartialEq)]
pub enum Node {
    /// `n` units of the task in a slot; without `n`, `times` x the enclosing scheme's number.
    Task {
        /// Slot in [`Workout::tasks`].
        slot: usize,
        /// Units.
        n: Option<f64>,
        /// Multiple of the scheme's number.
        times: f64,
    },
    /// Body `n` times with a fixed rest between rounds (0 for none).
    Rounds {
        /// How many.
        n: u32,
        /// Fixed rest between.
        rest: f64,
        /// Each round.
        body: Vec<Node>,
    },
    /// Body once per number.
    Scheme {
        /// The numbers.
        reps: Vec<f64>,
        /// Each round.
        body: Vec<Node>,
    },
    /// As scheme, rising by `step`, until `n` rounds or the deadline.
    Ladder {
        /// First number.
        start: f64,
        /// Rise.
        step: f64,
        /// Most rounds.
        n: u32,
        /// Each round.
        body: Vec<Node>,
    },
    /// Fixed rest: a new segment of effort begins after it.
    Rest(f64),
    /// Body over and over for a time.
    Amrap {
        /// How long.
        t: f64,
        /// Each round.
        body: Vec<Node>,
    },
    /// Each item as much as possible for `on`, then `off`.
    Stations {
        /// Work.
        on: f64,
        /// Rest.
        off: f64,
        /// Times through.
        rounds: u32,
        /// Slots in order.
        items: Vec<usize>,
    },
    /// Buy-in (not counted), then as much as possible to the end of `on`.
    Windows {
        /// How many.
        n: u32,
        /// Work.
        on: f64,
        /// Rest.
        off: f64,
        /// Done first, not counted.
        buy_in: Vec<Node>,
        /// Slot done as much as possible.
        max: usize,
    },
    /// Body at the start of every `t`, `n` times.
    Every {
        /// Interval.
        t: f64,
        /// Cycles.
        n: u32,
        /// Each cycle.
        body: Vec<Node>,
    },
    /// Body with rising reps every `t` until a cycle fails; `per` tasks share each number.
    EveryRising {
        /// Interval.
        t: f64,
        /// First number.
        start: f64,
        /// Rise.
        step: f64,
        /// Tasks per number.
        per: f64,
        /// Each cycle.
        body: Vec<Node>,
    },
    /// `task` whenever `every` seconds are up, then back to the body.
    Interrupt {
        /// Interval.
        every: f64,
        /// The first one comes at the start.
        at_zero: bool,
        /// What interrupts.
        task: Vec<Node>,
        /// The work.
        body: Vec<Node>,
    },
    /// `task` before every set after a break; `on` limits it to some slots (empty: all).
    Penalty {
        /// Slots.
        on: Vec<usize>,
        /// The price.
        task: Vec<Node>,
        /// The work.
        body: Vec<Node>,
    },
}

/// A workout for one member.
#[derive(Debug, Clone, PartialEq)]
pub struct Workout {
    /// What counts.
    pub scored: Scored,
    /// Cap in seconds.
    pub cap: Option<f64>,
    /// (row in the pacing table, load in kg) per slot.
    pub tasks: Vec<(usize, f64)>,
    /// The work in order.
    pub body: Vec<Node>,
}

impl Workout {
    /// Slot of a task, adding it when it is new.
    pub fn slot(&mut self, row: usize, load: f64) -> usize {
        if let Some(i) = self.tasks.iter().position(|t| *t == (row, load)) {
            return i;
        }
        self.tasks.push((row, load));
        self.tasks.len() - 1
    }
}
