//! The plan as plain text: what a coach reads at a terminal or prints without the app.

use super::{ClassPlan, Fitting, Gives, Weighed};
use crate::movement::say::spoken;
use crate::units::{clock, in_ten, plain};
use std::fmt::Write as _;

/// The whole plan in words.
pub fn text(plan: &ClassPlan) -> String {
    let mut out = String::new();
    let _ = writeln!(out, "{}", plan.title.as_deref().unwrap_or("Session"));
    for m in &plan.sheet.messages {
        let _ = writeln!(out, "To the class: {m}");
    }
    hour(plan, &mut out);
    warm_up(plan, &mut out);
    strength(plan, &mut out);
    workouts(plan, &mut out);
    cautions(plan, &mut out);
    for p in &plan.problems {
        let _ = writeln!(out, "! {p}");
    }
    out
}

/// Ways to make a day fit, each with what it gives and costs, then the cheapest that do together.
pub fn text_of_ways(now: &Gives, ways: &[Weighed], fitting: Option<&Fitting>) -> String {
    let mut out = String::new();
    if ways.is_empty() {
        let _ = writeln!(out, "No way helps.");
    }
    for w in ways {
        let wins = match w.wins_s {
            s if s < 0 => format!("{} longer", clock(-s as f64)),
            s => format!("wins {}", clock(s as f64)),
        };
        let of = |g: &Gives| g.on_stimulus.map_or_else(|| "-".to_owned(), |v| format!("{v:.1}"));
        let short = match now.short {
            0 => String::new(),
            _ => format!(", {} short, {} of waiting", w.then.short, clock(w.then.waits_s)),
        };
        let on = format!("{} on stimulus (now {}){short}", of(&w.then), of(now));
        let _ = writeln!(out, "  {} {wins}, {on}; cost {:.2}", crate::say::way(&w.mend.way), w.cost);
    }
    if let Some(f) = fitting {
        let all: Vec<String> = f.mends.iter().map(|m| crate::say::way(&m.way)).collect();
        let over = match f.then.over_s {
            0 => "fits".to_owned(),
            s => format!("still {} over", clock(f64::from(s))),
        };
        let _ = writeln!(out, "Together ({over}): {}", all.join(" "));
    }
    out
}

fn hour(plan: &ClassPlan, out: &mut String) {
    let h = &plan.hour;
    let _ = writeln!(out, "\nThe hour ({})", clock(f64::from(h.length_s)));
    for s in &h.slots {
        let (at, length) = (clock(f64::from(s.start_s)), clock(f64::from(s.length_s)));
        let beside = if s.column.is_some_and(|c| c.with_before) { "beside it: " } else { "" };
        let _ = writeln!(out, "  {at:>5}  {:<14}{length:>6}  {beside}{}", s.part.word(), s.how);
    }
    if h.overrun_s > 0 {
        let _ = writeln!(out, "  The hour runs {} over.", clock(f64::from(h.overrun_s)));
    } else {
        let _ = writeln!(out, "  {} spare", clock(f64::from(h.spare_s)));
    }
}

fn warm_up(plan: &ClassPlan, out: &mut String) {
    let _ = writeln!(out, "\nWarm-up");
    for s in &plan.warm_up.steps {
        let _ = writeln!(out, "  {:>5}  {:<9} {}", clock(f64::from(s.seconds)), s.part.word(), s.said());
    }
    if !plan.warm_up.missing.is_empty() {
        let _ = writeln!(out, "  Not touched: {}", plan.warm_up.missing.join(", "));
    }
}

fn strength(plan: &ClassPlan, out: &mut String) {
    for lift in plan.strength.iter().flat_map(|s| &s.lifts) {
        let _ =
            writeln!(out, "\n{}", crate::movement::catalogue().name(lift.sets.movement.id().unwrap_or("")));
        for (n, rack) in lift.racks.racks.iter().enumerate() {
            let _ = writeln!(out, "  Rack {}, {} plate moves", n + 1, rack.moves);
            for i in &rack.members {
                row(plan, lift, *i, out);
            }
        }
        for (i, _) in lift.members.iter().filter(|(_, l)| l.bar_kg() <= 0.0) {
            row(plan, lift, *i, out);
        }
    }
    for open in plan.strength.iter().flat_map(|s| &s.open) {
        let _ = writeln!(out, "  ! {open}");
    }
}

fn row(plan: &ClassPlan, lift: &super::LiftPlan, i: usize, out: &mut String) {
    let Some((m, l)) = plan.members.get(i).zip(lift.of(i)) else { return };
    let ramp: Vec<String> =
        l.sets.iter().filter(|s| s.warm_up).map(|s| format!("{}x{}", plain(s.load_kg), s.reps)).collect();
    let work: Vec<String> = l
        .working()
        .map(|s| {
            let plates: Vec<String> = s.per_side_kg.iter().map(|p| plain(*p)).collect();
            let side = if plates.is_empty() { String::new() } else { format!(" ({})", plates.join("+")) };
            format!("{}x{}{side}", plain(s.load_kg), s.reps)
        })
        .collect();
    let name = if Some(l.lift.as_str()) == lift.sets.movement.id() {
        String::new()
    } else {
        format!("{}: ", spoken(&l.lift))
    };
    let _ = writeln!(
        out,
        "    {:<14} {name}{} | {} | {} ({})",
        m.name,
        if ramp.is_empty() { "-".to_owned() } else { ramp.join(" ") },
        work.join(" "),
        l.base.words,
        l.base.provenance.word()
    );
    for r in l.reasons.iter().chain(&l.open) {
        let private = if r.private() { "(private) " } else { "" };
        let _ = writeln!(out, "      {private}{}", crate::say::reason(r, plan.unit));
    }
}

fn workouts(plan: &ClassPlan, out: &mut String) {
    for w in &plan.workouts {
        let _ = writeln!(out, "\n{}", w.name.as_deref().unwrap_or("Workout"));
        let Some(s) = &w.stimulus else {
            let _ = writeln!(out, "  {}", w.waits.as_deref().unwrap_or("waits"));
            continue;
        };
        let said = if s.said == crate::stimulus::Said::Assumed { " (assumed)" } else { "" };
        let cap = s.cap_s.map(|c| format!(", cap {}", clock(c))).unwrap_or_default();
        let _ = writeln!(out, "  Window {}{said}{cap}; {}", s.window_text(), s.length.word());
        if let Some(cap) = w.cap_proposed_s {
            let _ = writeln!(out, "  No cap is written; {} would do", clock(f64::from(cap)));
        }
        if !w.expected.is_empty() {
            let of =
                |e: &super::Expected| format!("{} {} ({})", e.level.word(), s.write(e.score), e.tier.word());
            let all: Vec<String> = w.expected.iter().map(of).collect();
            let _ = writeln!(out, "  Expected: {}", all.join(", "));
        }
        let name = |i: usize| plan.members.get(i).map(|m| m.name.clone()).unwrap_or_default();
        for note in w.says().into_iter().chain(w.short.iter().map(|s| crate::say::short(s, plan.unit, name)))
        {
            let _ = writeln!(out, "  {note}");
        }
        for (v, p) in w.versions.iter().zip(&w.pace) {
            let _ = writeln!(out, "  {} ({}), {}", v.tier.word(), v.made_for, v.work.clock_text());
            let _ = writeln!(out, "    {}", v.says());
            for l in &v.work.lines {
                if !l.lead.is_empty() {
                    let _ = writeln!(out, "    {}", l.lead);
                }
                let _ = writeln!(out, "    {}", l.text());
            }
            let marks: Vec<String> = p
                .checkpoints
                .iter()
                .map(|c| format!("{} {}", c.at.done().to_lowercase(), clock(c.on_pace)))
                .collect();
            let _ = writeln!(out, "    pace: {}", marks.join(", "));
            for c in &p.checkpoints {
                let Some((cut, latest)) = c.cut.as_ref().zip(c.latest_window) else { continue };
                let _ =
                    writeln!(out, "    {} later than {}: {}", c.at.done(), clock(latest), cut.shout.says());
            }
        }
        members(plan, w, s, out);
    }
}

fn members(plan: &ClassPlan, w: &super::WorkoutPlan, s: &crate::stimulus::Stimulus, out: &mut String) {
    for (i, p) in w.placed.iter().enumerate() {
        let Some(m) = plan.members.get(i) else { continue };
        let r = &p.predicted.prediction;
        let range = match &r.scale_this {
            Some(far) => crate::say::beyond(far),
            None => format!(
                "{} ({} to {}), {} in the window, {}",
                s.write(r.p50()),
                s.write(r.p10()),
                s.write(r.p90()),
                in_ten(r.on_stimulus),
                r.provenance.word()
            ),
        };
        let _ = writeln!(out, "  {:<14} {}  {range}", m.name, p.tier.letter());
        for x in &p.personal {
            let private = if x.private() { " (private)" } else { "" };
            let _ = writeln!(out, "      {}{private}: {}", x.text, x.says(plan.unit));
        }
        if !p.offers.is_empty() {
            let _ = writeln!(out, "      to offer: {}", p.offers.join("; "));
        }
        if let Some(sp) = w.splits.get(i).filter(|sp| !sp.round_ends.is_empty()) {
            let ends: Vec<String> = sp.round_ends.iter().map(|t| clock(*t)).collect();
            let _ = writeln!(out, "      rounds {}", ends.join(" "));
        }
    }
}

fn cautions(plan: &ClassPlan, out: &mut String) {
    let _ = writeln!(out, "\nCautions");
    let mut said: Vec<&str> = Vec::new();
    for c in &plan.cautions {
        // the same sentence stands once a day
        if said.contains(&c.says.as_str()) {
            continue;
        }
        said.push(&c.says);
        let because = if c.because.is_empty() { String::new() } else { format!(" [{}]", c.because) };
        let _ = writeln!(out, "  {} ({}){because}: {}", c.title, c.at, c.says);
    }
    let _ = writeln!(out, "  {}", crate::cautions::DEFERS);
}
