//! The laws of pacing once more, written down plainly: bisections, Newton steps and exponentials where the program has series,
//! tables and secants; one reserve after the other; no thought of speed. What the program gives must agree with it.

use lantern_core::pacing::params::*;
use lantern_core::pacing::table::{self, Kind, Row};
use lantern_core::pacing::{Amount, Athlete, Node, Policy, Scored, Shared, Workout};

/// A movement at a load for a member.
#[derive(Clone)]
struct Spec {
    row: &'static Row,
    cycle: f64,
    energy: f64,
    /// 0: reps, 1: run, 2: machine by metres, 3: by calories.
    kind: u8,
    display: f64,
    /// (reserve, cost of a step, weight), the primary first.
    used: Vec<(usize, f64, f64)>,
    shortest_break: f64,
    flow: bool,
    skill_set: f64,
    quick: f64,
    feasible: bool,
}

/// Deficit after a rest of `x` time constants: a ln(d0 / d) + BETA (d0 - d) = x, by Newton.
fn recover(d: f64, a: f64, x: f64) -> f64 {
    if d <= 1e-9 || x <= 0.0 {
        return d;
    }
    if x < 0.1 {
        // a rest this short goes at the speed of its beginning
        return d * (-x / (a + BETA * d)).exp();
    }
    let mut y = d.ln();
    let rhs = a * y + BETA * d - x;
    for _ in 0..40 {
        let e = y.exp();
        y -= (a * y + BETA * e - rhs) / (a + BETA * e);
    }
    y.exp()
}

/// Reps that take the deficit from `d0` to `d1` at a cost of `k` a rep and `x` time constants of rest in each.
fn reps_between(d0: f64, d1: f64, a: f64, k: f64, x: f64) -> f64 {
    if d1 <= d0 {
        return 0.0;
    }
    let (p, q) = (k * a, k * BETA - x);
    if q.abs() < 1e-4 * p {
        return (a * (d1 - d0) + BETA * (d1 * d1 - d0 * d0) / 2.0) / p;
    }
    let (from, to) = (p + q * d0, p + q * d1);
    if to <= 1e-9 * p {
        return f64::INFINITY;
    }
    BETA / q * (d1 - d0) + (a - BETA * p / q) / q * (to / from).ln()
}

/// Reps from a deficit down to a floor; the deep zone at its mean cost.
fn deep_reps(d0: f64, c: f64, floor: f64, k: f64, x: f64) -> f64 {
    let a = 1.0 + BETA * (1.0 - c);
    if floor >= R_DEEP {
        return reps_between(d0, c - floor, a, k, x);
    }
    let edge = c - R_DEEP;
    let shallow = if d0 < edge { reps_between(d0, edge, a, k, x) } else { 0.0 };
    let from = R_DEEP.min(c - d0);
    if from <= floor {
        return shallow;
    }
    let mean = k * (1.0 + B_DEEP * (1.0 - 0.5 * (from + floor) / R_DEEP));
    shallow + reps_between(d0.max(edge), c - floor, a, mean, x)
}

/// Cost of a rep such that a fresh set ends at `most` reps.
fn cost_for(most: f64, cycle: f64, start: f64, quick: f64) -> f64 {
    if most <= 1.0 {
        return 1.0;
    }
    let (mut most, mut cut) = (most + start, 1.0);
    let x = RHO * cycle / (TAU / quick);
    let lasts = most * cycle;
    if lasts > T_SET {
        (most, cut) = (T_SET / cycle, (T_SET / lasts).powf(P_SET));
        if most <= 1.0 {
            return cut.min(1.0);
        }
    }
    let (mut low, mut high) = (0.1 / most, 1.0);
    for _ in 0..60 {
        let k = 0.5 * (low + high);
        if deep_reps(0.5 * k, 1.0, 0.0, k, x) > most - 0.5 { low = k } else { high = k }
    }
    0.5 * (low + high) * cut
}

fn most_reps(a: &Athlete, row: &Row, load: f64) -> (f64, f64) {
    let factor = a.factor[row.primary];
    match &row.kind {
        Kind::Load(anchors) => {
            let one = anchors.iter().map(|(i, q)| a.one_rm[*i] * q).fold(f64::INFINITY, f64::min)
                * factor.powf(LAM);
            if load <= 0.0 {
                return (M_CAP, 0.0);
            }
            let share = load / one;
            let mut most = 1.0 + (row.a - 1.0) * (1.0 / share - 1.0);
            if most > M_END {
                most = M_END + (most - M_END) * a.engine;
            }
            (most.min(if row.unit == "rep" { M_CAP } else { 2000.0 }), share)
        }
        Kind::Reps(i, q) => {
            let most = q * a.unbroken[*i] + row.offset;
            (if most >= 1.0 { (most * factor).max(1.0) } else { most }, 0.0)
        }
        _ => (f64::INFINITY, 0.0),
    }
}

fn resolve(a: &Athlete, row: usize, load: f64) -> Spec {
    let row = table::at(row).unwrap();
    let (raw, share) = most_reps(a, row, load);
    let most = raw.max(1.0);
    let heavy = 1.0 + HEAVY * (share - 0.4).max(0.0).powi(2);
    let mut cycle = row.c0 * row.chunk * if row.unit == "s" { 1.0 } else { a.cycle * heavy };
    let mut energy = (row.e_body + row.e_load * load / a.mass) * row.chunk;
    let (mut kind, mut display) = (0, 0.0);
    match row.kind {
        Kind::Run => {
            kind = 1;
            let metre = a.run_cost * row.e_body;
            energy = metre * row.chunk;
            cycle = RUN_FLOOR * (metre * 1000.0 - U_RUN * a.reserve) / a.engine / 1000.0 * row.chunk;
        }
        Kind::ErgMetres(economy) | Kind::ErgCalories(economy) => {
            kind = if matches!(row.kind, Kind::ErgMetres(_)) { 2 } else { 3 };
            display = K * economy * (a.mass / 82.0).powf(K_EXP) * a.erg;
            energy = if kind == 2 { 0.26 * row.chunk } else { 3600.0 / display * row.chunk };
            cycle = energy / (1.15 * a.engine);
        }
        _ => {}
    }
    let mut quick = 1.0;
    if matches!(row.kind, Kind::Reps(..)) && !row.skill && row.unit == "rep" {
        let lasts = most / row.chunk * cycle;
        quick = if lasts >= T_QUICK { 1.0 } else { (T_QUICK / lasts).powf(P_QUICK) };
    }
    if matches!(row.kind, Kind::Load(_)) && row.a < 28.0 && share > DROP_FROM {
        cycle += DROP * (share - DROP_FROM).powi(2) * row.single * a.cycle;
    }
    let (mut of, mut skill_set) = (most, f64::INFINITY);
    if row.skill {
        skill_set = (most + 0.5).floor().max(1.0);
        of *= 4.0;
    }
    let cost = if kind == 0 {
        cost_for((of / row.chunk).max(1.0), cycle, row.start, quick)
    } else {
        A_CYC * RHO * energy / a.engine / TAU
    };
    let mut used = vec![(row.primary, cost, 1.0)];
    used.extend(row.secondary.iter().map(|(g, w)| (*g, w * cost, *w)));
    Spec {
        row,
        cycle,
        energy,
        kind,
        display,
        used,
        shortest_break: if row.unit == "rep" { (row.single - row.c0).max(1.0) } else { row.single },
        flow: row.stretch >= 1.45,
        skill_set,
        quick,
        feasible: raw >= 0.999,
    }
}

#[derive(Clone, Copy, PartialEq)]
enum End {
    Done,
    Deadline,
    Minute,
    Cannot,
    Forced,
}

/// Over what effort is spread.
#[derive(Clone, Copy, PartialEq)]
enum Horizon {
    Natural,
    Segment,
    Timed { after: f64, rests: f64 },
    Turns(f64),
}

/// A run.
pub struct Sim<'a> {
    a: &'a Athlete,
    specs: Vec<Spec>,
    pol: Policy,
    pub t: f64,
    pub w: f64,
    r: [f64; 7],
    c: [f64; 7],
    seen: [f64; 7],
    speed: [f64; 7],
    deadline: f64,
    cur: Option<usize>,
    horizon: Horizon,
    pub segments: Vec<f64>,
    spent: f64,
    left: Option<f64>,
    pub reps: f64,
    pub part: f64,
    counting: bool,
    rounds: u32,
    pass: u32,
    next_minute: f64,
    minute_every: f64,
    minute_task: Vec<Node>,
    in_minute: bool,
    interrupted: bool,
    penalty: Option<(Vec<usize>, Vec<Node>)>,
    in_penalty: bool,
    pub sets: u32,
    pub stuck: bool,
    pub margins: Vec<f64>,
}

impl<'a> Sim<'a> {
    fn new(w: &Workout, a: &'a Athlete, pol: Policy) -> Sim<'a> {
        let left = pol.segments.first().copied();
        Sim {
            a,
            specs: w.tasks.iter().map(|(row, load)| resolve(a, *row, *load)).collect(),
            pol,
            t: 0.0,
            w: a.reserve,
            r: [1.0; 7],
            c: [1.0; 7],
            seen: [0.0; 7],
            speed: [1.0; 7],
            deadline: f64::INFINITY,
            cur: None,
            horizon: Horizon::Segment,
            segments: Vec::new(),
            spent: 0.0,
            left,
            reps: 0.0,
            part: 0.0,
            counting: true,
            rounds: 0,
            pass: 0,
            next_minute: f64::INFINITY,
            minute_every: 0.0,
            minute_task: Vec::new(),
            in_minute: false,
            interrupted: false,
            penalty: None,
            in_penalty: false,
            sets: 0,
            stuck: false,
            margins: Vec::new(),
        }
    }

    fn engine(&self) -> f64 {
        self.a.engine * (1.0 - FADE * (1.0 + (self.t / T_FADE).powi(2)).ln())
    }

    fn touch(&mut self, g: usize) {
        let dt = self.t - self.seen[g];
        if dt > 0.0 {
            let d = self.c[g] - self.r[g];
            let c = 1.0 - (1.0 - self.c[g]) * (-dt / TAU_SLOW).exp();
            let tau = TAU / self.speed[g] * (1.0 + A_TAU * (1.0 - self.w / self.a.reserve));
            self.r[g] = c - recover(d, 1.0 + BETA * (1.0 - c), dt / tau);
            self.c[g] = c;
            self.seen[g] = self.t;
        }
    }

    fn rest(&mut self, dt: f64) -> bool {
        let (mut dt, mut whole) = (dt, true);
        if self.t + dt >= self.deadline {
            (dt, whole) = ((self.deadline - self.t).max(0.0), false);
        }
        if dt > 0.0 {
            let full = self.a.reserve;
            self.w = full - (full - self.w) * (-self.engine() * dt / full).exp();
            self.t += dt;
        }
        whole
    }

    /// Engine demand of an even effort over what is left.
    fn even(&self, e: f64, w: f64, t: f64) -> f64 {
        match self.horizon {
            Horizon::Segment => match self.left {
                None => 1.15 * e,
                Some(all) => {
                    let left = all - self.spent;
                    if left <= 1.02 * w { 20.0 * e } else { e * left / (left - w) }
                }
            },
            Horizon::Timed { after, rests } => {
                e + (w + ETA * e * rests) / (after + self.deadline - t).max(1.0)
            }
            Horizon::Turns(times) => e * times,
            Horizon::Natural => 20.0 * e,
        }
    }

    fn available(&self, s: &Spec, floor: f64, rested: bool) -> f64 {
        let x = RHO * s.cycle / (TAU / s.quick);
        let n = s
            .used
            .iter()
            .map(|(g, k, w)| {
                let d0 = if rested { 0.0 } else { self.c[*g] - self.r[*g] };
                deep_reps(d0, self.c[*g], floor * w, *k, x)
            })
            .fold(f64::INFINITY, f64::min);
        (n - s.row.start).max(0.0)
    }

    fn wait_for(&self, s: &Spec, reps: f64, floor: f64) -> f64 {
        let n = reps + s.row.start;
        let slow = TAU * (1.0 + 0.7 * A_TAU * (1.0 - self.w / self.a.reserve));
        let x = RHO * s.cycle / (TAU / s.quick);
        let mut t: f64 = 0.0;
        for (g, k, w) in &s.used {
            let (tau, c, mut k) = (slow / self.speed[*g], self.c[*g], *k);
            let a = 1.0 + BETA * (1.0 - c);
            let th = floor * w;
            let limit = c - th;
            if th < R_DEEP {
                let deep = deep_reps(c - R_DEEP, c, th, k, x);
                if n > deep {
                    k = if deep.is_finite() { (k * (n - deep) + (R_DEEP - th)) / n } else { k };
                } else {
                    k *= 1.0 + B_DEEP * (1.0 - th / R_DEEP - 0.5 * n * k / R_DEEP);
                }
            }
            let mut d0 = limit - n * k;
            for _ in 0..2 {
                let mid = (0.5 * (limit + d0)).max(0.0);
                d0 = limit - n * (k - x * mid / (a + BETA * mid)).max(0.0);
            }
            let (d0, d) = (d0.max(0.03 * c), c - self.r[*g]);
            if d > d0 {
                t = t.max(tau * (a * (d / d0).ln() + BETA * (d - d0)));
            }
        }
        t
    }

    /// (size, rest before it).
    fn plan(&mut self, s: &Spec, left: f64, first: bool) -> (f64, f64) {
        for (g, ..) in &s.used {
            self.touch(*g);
        }
        let p = self.pol.clone();
        let (mut size, mut wait) = (left, 0.0);
        if p.hot {
            if !first || self.available(s, 0.0, false) < 1.0 {
                let full = self.available(s, 0.0, true).max(1.0);
                wait = self.wait_for(s, left.min(0.35 * full).max(1.0), 0.0);
            }
        } else if s.flow {
            if self.available(s, 0.0, false) < 1.0 {
                wait = self.wait_for(s, left.min(3.0), p.theta);
            }
        } else {
            let now = self.available(s, p.theta, false);
            if now < left {
                let full = self.available(s, p.theta, true).max(1.0);
                let most = (p.sigma * full).min(full - 0.01).max(1.0);
                size = (left / (left / most - 1e-9).ceil() - 1e-9).ceil();
                if p.lead * now >= size + 1.0 {
                    size = left.min((p.lead * now).floor());
                } else {
                    wait = self.wait_for(s, size, if size > full { 0.0 } else { p.theta });
                }
            }
        }
        let held = !p.hot && p.omega > 0.0 && !s.flow && s.kind == 0 && self.horizon == Horizon::Segment;
        if let Some(all) = self.left.filter(|l| held && *l > 0.0) {
            let full = self.a.reserve;
            let need = p.omega * full * (1.0 - self.spent / all).max(0.0);
            if self.w < need {
                wait = wait.max(full / self.engine() * ((full - self.w) / (full - need)).ln());
            }
        }
        (size.max(1.0), wait)
    }

    fn minute(&mut self) -> bool {
        while self.t >= self.next_minute - 1e-9 {
            self.next_minute += self.minute_every;
            let counted = std::mem::replace(&mut self.counting, false);
            self.in_minute = true;
            let ok = self.all(&self.minute_task.clone(), None);
            self.in_minute = false;
            self.interrupted = true;
            self.counting = counted;
            if !ok {
                return false;
            }
        }
        true
    }

    /// So many units of a movement, in sets.
    fn work(&mut self, slot: usize, n: f64) -> bool {
        let s = self.specs[slot].clone();
        if n <= 0.0 {
            return true;
        }
        if !s.feasible {
            self.stuck = true;
            return false;
        }
        let steps = (n / s.row.chunk - 1e-9).ceil().max(1.0);
        let unit = n / steps;
        let (mut done, mut first, mut why) = (0.0, true, End::Done);
        while done < steps {
            if self.cur != Some(slot) {
                self.cur = Some(slot);
                let back = if std::mem::take(&mut self.interrupted) { BACK } else { 0.0 };
                let change = (TRANS + s.row.setup + back) * self.a.transition * self.pol.slow;
                if self.t > 0.0 && !self.rest(change) {
                    return false;
                }
            }
            let (size, mut wait) = self.plan(&s, steps - done, first);
            let size = size.min(steps - done).min(s.skill_set);
            if !first {
                if let Some((on, body)) = self.penalty.clone().filter(|_| !self.in_penalty)
                    && (on.is_empty() || on.contains(&slot))
                {
                    let counted = std::mem::replace(&mut self.counting, false);
                    self.in_penalty = true;
                    let ok = self.all(&body, None);
                    self.in_penalty = false;
                    self.counting = counted;
                    if !ok {
                        return false;
                    }
                    first = true;
                    continue;
                }
                wait = wait.max(s.shortest_break) + if why == End::Forced { STALL } else { 0.0 };
            }
            if wait > 0.0 {
                wait *= self.a.dawdle * self.pol.slow;
                if self.t + wait >= self.next_minute && !self.in_minute {
                    self.rest((self.next_minute - self.t).max(0.0));
                    if !self.minute() {
                        return false;
                    }
                    (why, first) = (End::Done, true);
                    continue;
                }
                if !self.rest(wait) {
                    return false;
                }
            }
            let (got, ended) = self.set(&s, size.floor(), unit / s.row.chunk, unit);
            why = ended;
            done += got;
            first = false;
            match why {
                End::Deadline => return false,
                End::Cannot => {
                    self.stuck = true;
                    return false;
                }
                End::Minute => {
                    if !self.minute() {
                        return false;
                    }
                    first = true;
                }
                _ => {}
            }
        }
        true
    }

    /// One set, rep by rep.
    fn set(&mut self, s: &Spec, size: f64, scale: f64, unit: f64) -> (f64, End) {
        for (g, ..) in &s.used {
            self.touch(*g);
        }
        let (p, full, e) = (self.pol.clone(), self.a.reserve, self.engine());
        let (mut got, mut why) = (0.0, End::Done);
        let main = s.row.primary;
        let kp = s.used[0].1 * scale;
        while got < size {
            if self.t >= self.next_minute - 1e-9 && !self.in_minute {
                why = End::Minute;
                break;
            }
            let ends = s.used.iter().find_map(|(g, k, _)| {
                let k = k * scale;
                if k > 1.25 * self.c[*g] {
                    Some(End::Cannot)
                } else {
                    (self.r[*g] < 0.999 * k && self.r[*g] < 0.96 * self.c[*g]).then_some(End::Forced)
                }
            });
            if let Some(end) = ends {
                why = end;
                break;
            }
            let share = self.w / full;
            let empty = (1.0 - share).powi(2);
            let rp = self.r[main];
            let begin = if got == 0.0 { 1.0 + s.row.start } else { 1.0 };
            let (mut c, mut busy, energy);
            if s.kind >= 2 {
                let mut demand = e * (1.0 + MORT_ERG * share);
                if !p.hot {
                    demand = demand.min((p.q * self.even(e, self.w, self.t)).max(0.5 * e));
                }
                let shown = s.display * demand / p.slow;
                c = if s.kind == 3 {
                    3600.0 / shown * unit
                } else {
                    (WATT_CUBE / ((shown - IDLE_KCAL) / WATT_KCAL).max(20.0)).powf(1.0 / 3.0) * unit
                };
                energy = demand / p.slow * c;
                busy = c;
            } else {
                c = s.cycle * scale * (1.0 + A_R * (1.0 - rp).powi(2)) * (1.0 + A_W * empty) * p.slow;
                busy = c;
                energy = s.energy * scale * begin;
                if s.flow && !p.hot {
                    let even = energy / (p.q * self.even(e, self.w, self.t));
                    if even > c {
                        c = even.min(c * s.row.stretch);
                    }
                }
                let least = energy / (e * (1.0 + MORT * share));
                if least > c {
                    if !s.flow && got > 0.0 && share < W_LOW && least > c * s.row.stretch {
                        why = End::Forced;
                        break;
                    }
                    c = least;
                }
                if s.kind == 1 || !s.flow {
                    busy = c;
                }
            }
            if s.flow && !p.hot && rp - kp < p.theta {
                let room = (self.c[main] - rp).max(0.02);
                let steady = kp * TAU / s.quick * (1.0 + BETA * (1.0 - rp)) / room + (1.0 - RHO) * busy;
                if steady > c {
                    c = steady.min(c * s.row.stretch);
                }
            }
            if self.t + c > self.deadline + 1e-9 {
                if self.counting {
                    self.part += ((self.deadline - self.t) / c).max(0.0) * unit;
                }
                self.t = self.deadline;
                why = End::Deadline;
                break;
            }
            self.t += c;
            got += 1.0;
            self.w = if energy >= e * c {
                (self.w - (energy - e * c)).max(0.0)
            } else {
                full - (full - self.w) * (-(e * c - energy) / full).exp()
            };
            self.spent += energy;
            self.tire(s, scale * begin, c, busy, share);
        }
        for (g, k, w) in &s.used {
            self.speed[*g] += (2.0 * k * w.min(1.0) * scale * got).min(1.0) * (s.quick - self.speed[*g]);
            self.seen[*g] = self.t;
        }
        if self.counting {
            self.reps += got * unit;
        }
        self.sets += u32::from(got > 0.0);
        (got, why)
    }

    /// What one rep takes from the reserves it uses.
    fn tire(&mut self, s: &Spec, scale: f64, c: f64, busy: f64, share: f64) {
        let tau = TAU / s.quick * (1.0 + A_TAU * (1.0 - share));
        let x = (RHO * busy + c - busy) / tau;
        let slow = (-c / TAU_SLOW).exp();
        for (g, k, _) in &s.used {
            let (k, r) = (k * scale, self.r[*g]);
            let deep = if r < R_DEEP { 1.0 + B_DEEP * (1.0 - r / R_DEEP) } else { 1.0 };
            let ceiling = 1.0 - (1.0 - self.c[*g]) * slow;
            let left = ceiling - (self.c[*g] - r) * (-x / (1.0 + BETA * (1.0 - r))).exp() - k * deep;
            self.c[*g] =
                ceiling - PHI / s.quick * deep * deep * k * (ceiling - C_MIN).max(0.0) / (1.0 - C_MIN);
            self.r[*g] = left.max(0.0);
            self.seen[*g] = self.t;
        }
    }

    fn all(&mut self, nodes: &[Node], number: Option<f64>) -> bool {
        nodes.iter().all(|n| self.node(n, number))
    }

    fn passes(&mut self, n: u32, mut each: impl FnMut(&mut Self, u32) -> bool) -> bool {
        let outer = self.pass;
        let ok = (0..n).all(|i| {
            self.pass = i;
            each(self, i)
        });
        self.pass = outer;
        ok
    }

    fn node(&mut self, node: &Node, number: Option<f64>) -> bool {
        match node {
            Node::Task(a) => self.work(a.slot, a.units(number, self.pass)),
            Node::OnPass { pass, body } => self.pass != *pass || self.all(body, number),
            Node::Rounds { n, rest, body } => self.passes(*n, |s, i| {
                s.all(body, number) && {
                    s.rounds += 1;
                    *rest <= 0.0 || i + 1 == *n || s.fixed_rest(*rest)
                }
            }),
            Node::Scheme { reps, body } => {
                self.passes(reps.len() as u32, |s, i| s.all(body, Some(reps[i as usize])))
            }
            Node::Rest(t) => self.fixed_rest(*t),
            Node::Amrap { t, body, .. } => self.timed(*t, 0.0, 0.0, |s| {
                s.passes(u32::MAX, |s, _| s.all(body, number));
            }),
            Node::Stations { on, off, rounds, items, .. } => {
                let n = items.len() as u32 * rounds;
                (0..n).all(|i| {
                    let left = f64::from(n - i - 1);
                    let work = items[i as usize % items.len()].work;
                    self.timed(*on, left * on, left * off, |s| {
                        if let Some(Amount { slot, .. }) = work {
                            s.work(slot, 1e6);
                        }
                    }) && (left == 0.0 || self.rest(*off))
                })
            }
            Node::Every { t, n, body } => (0..*n).all(|i| {
                let next = self.t + t;
                self.cycle(*t, body);
                !self.stuck && self.t < self.deadline && (i + 1 == *n || self.rest((next - self.t).max(0.0)))
            }),
            Node::Interrupt { every, at_zero, task, body } => {
                self.minute_every = *every;
                self.minute_task = task.clone();
                self.next_minute = self.t + if *at_zero { 0.0 } else { *every };
                let ok = self.all(body, number);
                self.next_minute = f64::INFINITY;
                ok
            }
            Node::Penalty { on, task, body } => {
                self.penalty = Some((on.clone(), task.clone()));
                let ok = self.all(body, number);
                self.penalty = None;
                ok
            }
            other => panic!("not written down plainly: {other:?}"),
        }
    }

    /// One cycle of a clock; the rest that it leaves, none that is counted where it was not finished.
    fn cycle(&mut self, t: f64, body: &[Node]) {
        let (begin, deadline, horizon) = (self.t, self.deadline, self.horizon);
        (self.deadline, self.horizon) = (deadline.min(begin + t), Horizon::Natural);
        let ok = self.all(body, None);
        (self.deadline, self.horizon) = (deadline, horizon);
        self.margins.push(if ok { t - (self.t - begin) } else { f64::NEG_INFINITY });
    }

    fn fixed_rest(&mut self, t: f64) -> bool {
        let ok = self.rest(t);
        self.segments.push(std::mem::take(&mut self.spent));
        self.left = self.pol.segments.get(self.segments.len()).copied();
        self.cur = None;
        ok
    }

    fn timed(&mut self, t: f64, after: f64, rests: f64, f: impl FnOnce(&mut Self)) -> bool {
        let (deadline, horizon) = (self.deadline, self.horizon);
        let end = self.t + t;
        self.deadline = deadline.min(end);
        self.horizon = Horizon::Timed { after, rests };
        f(self);
        let cut = self.stuck || self.deadline < end;
        if self.t < self.deadline {
            self.rest(self.deadline - self.t - 1e-9);
            self.t = self.deadline;
        }
        (self.deadline, self.horizon) = (deadline, horizon);
        !cut
    }
}

/// One run under a pacing.
pub fn run<'a>(w: &Workout, a: &'a Athlete, pol: &Policy) -> Sim<'a> {
    let mut sim = Sim::new(w, a, pol.clone());
    sim.deadline = GUARD;
    sim.all(&w.body, None);
    let spent = sim.spent;
    sim.segments.push(spent);
    sim
}

/// The fixed point of the segments' engine costs.
pub fn settle<'a>(w: &Workout, a: &'a Athlete) -> Sim<'a> {
    let mut out = run(w, a, &Policy::default());
    for _ in 0..3 {
        if out.stuck {
            break;
        }
        out = run(w, a, &Policy { segments: out.segments.clone(), ..Policy::default() });
    }
    out
}

/// What is compared.
pub fn score(w: &Workout, sim: &Sim<'_>) -> f64 {
    match w.scored {
        Scored::Time => sim.t,
        Scored::Margin => sim.margins.iter().copied().fold(f64::INFINITY, f64::min),
        _ => sim.reps + sim.part,
    }
}

/// s on the clock when partners have done all rounds in turn, or all reps one after another.
pub fn together(w: &Workout, members: &[&Athlete]) -> f64 {
    let (_, shared) = w.team.as_ref().unwrap();
    let k = members.len();
    let mut sims: Vec<Sim<'_>> = members.iter().map(|a| Sim::new(w, a, Policy::default())).collect();
    for s in &mut sims {
        s.deadline = GUARD;
        s.horizon = Horizon::Turns(1.1 * (1.0 + ETA * (k as f64 - 1.0)));
    }
    let mut clock: f64 = 0.0;
    let turn = |s: &mut Sim<'_>, clock: &mut f64, f: &mut dyn FnMut(&mut Sim<'_>)| {
        s.rest((*clock - s.t).max(0.0));
        f(s);
        *clock = s.t;
    };
    match shared.first().unwrap() {
        Shared::Alternate { n, body, .. } => {
            for i in 0..n.unwrap() {
                let s = &mut sims[i as usize % k];
                if i > 0 {
                    clock += TAG;
                    if let Some(Node::Task(a)) = body.first() {
                        s.cur = Some(a.slot);
                    }
                }
                s.pass = i;
                turn(s, &mut clock, &mut |s| {
                    s.all(body, None);
                });
            }
        }
        Shared::Switch { tasks, .. } => {
            let mut who = 0;
            for (a, size) in tasks {
                let (mut left, mut new) = (a.units(None, 0), true);
                while left > 0.0 {
                    let n = size.min(left);
                    if new {
                        sims.iter_mut().for_each(|s| s.cur = None);
                    } else {
                        clock += TAG;
                        sims[who].cur = Some(a.slot);
                    }
                    turn(&mut sims[who], &mut clock, &mut |s| {
                        s.work(a.slot, n);
                    });
                    left -= n;
                    new = false;
                    who = (who + 1) % k;
                }
            }
        }
        other => panic!("not written down plainly: {other:?}"),
    }
    clock
}
