//! A workout as the simulator runs it: a tree of work over a list of tasks (movement row and load).

/// What the score of a workout is.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Scored {
    /// Seconds until done.
    Time,
    /// Units of work counted.
    Reps,
    /// Units of the worst round or window.
    Lowest,
    /// Least rest left in a cycle, seconds.
    Margin,
}

/// What the sheet asks of the sets of a movement in every round: paid for with rest before a set.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Asked {
    /// No more sets than this.
    pub most_sets: Option<u32>,
    /// The first set is at least this share of the line, a third of it after the first round.
    pub first_share: Option<f64>,
}

/// Units of one task.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Amount {
    /// Slot in [`Workout::tasks`].
    pub slot: usize,
    /// Units; without, `times` x the enclosing scheme's number.
    pub n: Option<f64>,
    /// Multiple of the scheme's number.
    pub times: f64,
    /// More units with each pass of the enclosing list.
    pub rise: f64,
    /// Place of the line that it stands for: carried into the trace.
    pub line: usize,
}

impl Amount {
    /// So many units of a slot.
    pub fn of(slot: usize, n: f64) -> Amount {
        Amount { slot, n: Some(n), times: 1.0, rise: 0.0, line: 0 }
    }

    /// The enclosing scheme's number of a slot.
    pub fn by_scheme(slot: usize) -> Amount {
        Amount { slot, n: None, times: 1.0, rise: 0.0, line: 0 }
    }

    /// Units on pass `pass` (from 0) with the scheme's number.
    pub fn units(&self, number: Option<f64>, pass: u32) -> f64 {
        let base = self.n.unwrap_or_else(|| number.unwrap_or(0.0) * self.times);
        (base + self.rise * f64::from(pass)).max(0.0)
    }
}

/// One station.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Station {
    /// What is done; `None`: nothing.
    pub work: Option<Amount>,
}

/// One node of the tree; times in seconds.
#[derive(Debug, Clone, PartialEq)]
pub enum Node {
    /// Work.
    Task(Amount),
    /// Body on one pass of the enclosing list only (from 0).
    OnPass {
        /// Which pass.
        pass: u32,
        /// What is done.
        body: Vec<Node>,
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
        /// Done first, not counted.
        buy_in: Vec<Node>,
        /// Each round.
        body: Vec<Node>,
    },
    /// Each station for `on`, then `off`.
    Stations {
        /// Work.
        on: f64,
        /// Rest.
        off: f64,
        /// Times through.
        rounds: u32,
        /// In order.
        items: Vec<Station>,
        /// Each station is a round of its own.
        each: bool,
    },
    /// Windows of `on` with `off` between: buy-in (not counted), then one task as much as possible, or, without, the body
    /// over and over.
    Windows {
        /// How many.
        n: u32,
        /// Work.
        on: f64,
        /// Rest.
        off: f64,
        /// Done first, not counted.
        buy_in: Vec<Node>,
        /// Done over and over.
        body: Vec<Node>,
        /// Done as much as possible.
        max: Option<Amount>,
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
    /// One item at the start of every `t`, in turn, `n` cycles in all.
    Alternating {
        /// Interval.
        t: f64,
        /// Cycles.
        n: u32,
        /// What each cycle holds; nothing for a cycle of rest.
        items: Vec<Vec<Node>>,
    },
    /// Body every `t` until a cycle fails: with the scheme's number rising from `start` by `step`, or tasks that rise by
    /// themselves. The score is cycles and the share of the failed one.
    UntilFailure {
        /// Interval.
        t: f64,
        /// First number.
        start: f64,
        /// Rise.
        step: f64,
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

impl Node {
    /// Counted units of the tasks of a list on one pass.
    pub fn units_of(body: &[Node], number: Option<f64>, pass: u32) -> f64 {
        body.iter()
            .map(|node| match node {
                Node::Task(a) => a.units(number, pass),
                Node::OnPass { pass: p, body } if *p == pass => Node::units_of(body, number, pass),
                _ => 0.0,
            })
            .sum()
    }
}

/// How people do a workout together; one works at a time, the others rest.
#[derive(Debug, Clone, PartialEq)]
pub enum Shared {
    /// Whole passes of the list in turn: so many, or for a time.
    Alternate {
        /// Passes in all.
        n: Option<u32>,
        /// s.
        t: Option<f64>,
        /// Each pass.
        body: Vec<Node>,
    },
    /// The list once, or over and over for a time, handing over after so many units.
    Switch {
        /// s.
        t: Option<f64>,
        /// In order: (what, units of a turn).
        tasks: Vec<(Amount, f64)>,
    },
    /// Everybody rests.
    Rest(f64),
    /// Everybody does `reps` at each rising load; who cannot drops out.
    Ladder {
        /// Slots in rising order of load.
        slots: Vec<usize>,
        /// At each load.
        reps: f64,
        /// s to change the load.
        change: f64,
    },
}

/// A workout for one member, or for a team whose members are as strong as that member.
#[derive(Debug, Clone, PartialEq)]
pub struct Workout {
    /// What is asked of the sets of a slot.
    pub asked: Vec<(usize, Asked)>,
    /// What counts.
    pub scored: Scored,
    /// Cap in seconds.
    pub cap: Option<f64>,
    /// (row in the pacing table, load in kg) per slot.
    pub tasks: Vec<(usize, f64)>,
    /// The work in order.
    pub body: Vec<Node>,
    /// Done together: how many, and how. The body is then not used.
    pub team: Option<(u32, Vec<Shared>)>,
}

impl Workout {
    /// One without work yet.
    pub fn new(scored: Scored) -> Workout {
        Workout { asked: Vec::new(), scored, cap: None, tasks: Vec::new(), body: Vec::new(), team: None }
    }

    /// Slot of a task, adding it when it is new.
    pub fn slot(&mut self, row: usize, load: f64) -> usize {
        if let Some(i) = self.tasks.iter().position(|t| *t == (row, load)) {
            return i;
        }
        self.tasks.push((row, load));
        self.tasks.len() - 1
    }
}
