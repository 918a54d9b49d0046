//! The canonical sheet: any session written back as text. Reading what is printed gives the same session.

use super::model::{
    Block, Build, Count, Extra, Format, Item, LiftSets, Load, MoveLine, Named, Part, PercentBase, Sheet,
    TOP_LEVEL, Target, TargetUnit, Team, TeamMode, Tempo, WeightUnit, When, Wish,
};
use crate::movement::{LoadKind, catalogue};
use crate::units::{Unit, clock, pair, plain};

/// Writes a session as a sheet.
///
/// ```
/// use lantern_core::sheet::{print, read};
/// let sheet = read("WOD: 21-15-9, 10 min cap\nthrusters 43/30\npullups").sheet;
/// assert_eq!(print(&sheet), "# workout cap 10:00\n21-15-9 for time\nthruster 43/30 kg\npull-up\n");
/// ```
pub fn print(sheet: &Sheet) -> String {
    let mut lines = Vec::new();
    let mut meta = |key: &str, value: Option<String>| {
        if let Some(v) = value {
            lines.push(format!("{key}: {v}"));
        }
    };
    meta("title", sheet.title.clone());
    meta("date", sheet.date.map(|d| d.to_string()));
    meta("class", sheet.class_s.map(|s| clock(f64::from(s))));
    meta("units", (sheet.units == WeightUnit::Lb).then(|| "lb".to_owned()));
    meta("intent", sheet.intent.clone());
    lines.extend(sheet.messages.iter().map(|m| format!("message: {m}")));
    for block in &sheet.blocks {
        if !lines.is_empty() {
            lines.push(String::new());
        }
        print_block(block, &mut lines);
    }
    lines.push(String::new());
    lines.join("\n")
}

fn print_block(block: &Block, lines: &mut Vec<String>) {
    lines.push(heading(block));
    if let Some(team) = &block.team {
        lines.push(team_line(team));
    }
    if let Some([k, n]) = block.week {
        lines.push(format!("week {k} of {n}"));
    }
    for lift in &block.lifts {
        // a level below another is printed with its number, the highest as everybody's unless it is no Full
        lines.push(format!("{}{}", level_words(lift.level.filter(|l| *l < TOP_LEVEL)), lift_line(lift)));
        lines.extend(
            lift.forms.iter().map(|f| format!("{}{}", level_words(Some(f.level)), lift_line(&f.sets))),
        );
    }
    lines.extend(block.builds.iter().map(build_line));
    for (i, part) in block.parts.iter().enumerate() {
        if i > 0 {
            if part.rest_s > 0 {
                lines.push(format!("rest {}", clock(f64::from(part.rest_s))));
            }
            lines.push("then".to_owned());
        }
        print_part(part, lines);
    }
    lines.extend(block.wishes.iter().map(wish_line));
    if let Some(score) = block.score {
        lines.push(format!("score: {}", score.words()));
    }
    lines.extend(block.notes.iter().map(|n| format!("note: {n}")));
}

fn print_part(part: &Part, lines: &mut Vec<String>) {
    lines.extend(part.format.as_ref().and_then(clock_line));
    for (i, item) in part.items.iter().enumerate() {
        match item {
            // a rest as the entry of one cycle says which
            Item::Rest { seconds } if matches!(part.format, Some(Format::EveryAlternating { .. })) => {
                lines.push(format!("minute {}: rest {}", i + 1, clock(f64::from(*seconds))));
            }
            Item::Move(m) if part.with_minutes() => lines.push(format!("minute {}: {}", i + 1, move_line(m))),
            Item::Rest { seconds } => lines.push(format!("rest {}", clock(f64::from(*seconds)))),
            Item::Move(m) => lines.push(move_line(m)),
        }
        if let Item::Move(m) = item {
            lines.extend(
                m.without_kit.iter().map(|(what, instead)| format!("{what}: {}", move_line(instead))),
            );
        }
    }
    lines.extend(part.extras.iter().map(extra_line));
}

/// A line around the work as it stands on a sheet.
pub(crate) fn extra_line(e: &Extra) -> String {
    let when = match e.when {
        When::BuyIn => "buy-in".to_owned(),
        When::CashOut => "cash-out".to_owned(),
        When::AfterRound(n) => format!("after round {n}"),
        When::EachRoundMore => return format!("each round add {}", move_line(&e.work)),
        When::OnTheClock { every_s, from_zero } => {
            let every = if every_s == 60 { "minute".to_owned() } else { clock(f64::from(every_s)) };
            format!("on every {every}{}", if from_zero { " from 0:00" } else { "" })
        }
        When::OnBreak => "on every break".to_owned(),
    };
    format!("{when}: {}", move_line(&e.work))
}

/// Pairs and teams as they stand on a sheet.
pub(crate) fn team_line(t: &Team) -> String {
    let who = if t.size == 2 { "pairs".to_owned() } else { format!("teams of {}", t.size) };
    let how = match t.mode {
        TeamMode::Alternate => "alternate rounds",
        TeamMode::OneWorks => "one works",
        TeamMode::Share => "share the reps",
    };
    format!("{who}, {how}")
}

fn build_line(b: &Build) -> String {
    let mut out = format!("{} build to {}rm", name_of(&b.movement), b.reps);
    if let Some(s) = b.window_s {
        out.push_str(&format!(" in {}", clock(f64::from(s))));
    }
    if b.no_misses {
        out.push_str(", no misses");
    }
    out
}

fn heading(block: &Block) -> String {
    let mut out = format!("# {}", block.kind.word());
    if let Some(name) = &block.name {
        out.push_str(&format!(" \"{name}\""));
    }
    if let Some(s) = block.duration_s {
        out.push_str(&format!(" {}", clock(f64::from(s))));
    }
    if let Some(s) = block.cap_s {
        out.push_str(&format!(" cap {}", clock(f64::from(s))));
    }
    if let Some(t) = &block.target {
        out.push_str(&format!(" target {}", target_words(t)));
    }
    out
}

/// `9:00-12:00`, `5-6 rounds`, `under 10:00`, `120+ reps`.
pub(crate) fn target_words(t: &Target) -> String {
    let one = |v: f64| if t.unit == TargetUnit::Seconds { clock(v) } else { plain(v) };
    let unit = match t.unit {
        TargetUnit::Seconds => "",
        TargetUnit::Rounds => " rounds",
        TargetUnit::Reps => " reps",
        TargetUnit::Rest => " rest",
    };
    match (t.low, t.high) {
        (Some(a), Some(b)) => format!("{}-{}{unit}", one(a), one(b)),
        (None, Some(b)) => format!("under {}{unit}", one(b)),
        (Some(a), None) => format!("{}+{unit}", one(a)),
        (None, None) => String::new(),
    }
}

fn joined(reps: &[u32]) -> String {
    reps.iter().map(u32::to_string).collect::<Vec<_>>().join("-")
}

fn scheme(reps: &[u32], how: &str) -> String {
    match reps {
        [one] => format!("{one} to {one} {how}"),
        _ => format!("{} {how}", joined(reps)),
    }
}

/// The clock of a block in words; nothing for sets, which say it themselves.
pub(crate) fn clock_line(format: &Format) -> Option<String> {
    Some(match format {
        Format::Rounds { n } => format!("{n} rounds for time"),
        Format::Scheme { reps } => scheme(reps, "for time"),
        Format::Chipper => "for time".to_owned(),
        Format::Amrap { seconds } => format!("amrap {}", clock(f64::from(*seconds))),
        Format::Quality { rounds: 1, scheme } if scheme.is_empty() => "for quality".to_owned(),
        Format::Quality { rounds, scheme } if scheme.is_empty() => format!("{rounds} rounds for quality"),
        Format::Quality { scheme: reps, .. } => scheme(reps, "for quality"),
        Format::Every { seconds, n } => format!("every {} x {n}", clock(f64::from(*seconds))),
        Format::EveryAlternating { seconds, n } => {
            format!("every {} x {n}, alternating", clock(f64::from(*seconds)))
        }
        Format::EveryUntilFailure { seconds } => {
            format!("every {} until failure", clock(f64::from(*seconds)))
        }
        Format::Intervals { on, off, n } => format!("intervals {} x {n}", on_off(*on, *off)),
        Format::Stations { on, off, rounds } => format!("stations {}, {rounds} rounds", on_off(*on, *off)),
        Format::OnOff { on, off, n, alternating } => {
            let turn = if *alternating { ", alternating" } else { "" };
            format!("{} x {n}{turn}", on_off(*on, *off))
        }
        Format::Sets | Format::BuildToMax | Format::ClimbingSingles => return None,
    })
}

fn on_off(on: u32, off: u32) -> String {
    format!("{} on / {} off", clock(f64::from(on)), clock(f64::from(off)))
}

fn name_of(movement: &Named) -> String {
    match movement {
        Named::Known(id) => catalogue().written(id),
        Named::Unknown(words) => words.clone(),
    }
}

fn of_words(of: &PercentBase) -> String {
    match of {
        PercentBase::Unsaid => String::new(),
        PercentBase::OneRm => " of 1rm".to_owned(),
        PercentBase::TrainingMax => " of training max".to_owned(),
        PercentBase::RepMax(n) => format!(" of {n}rm"),
        PercentBase::Lift(id) => format!(" of {}", catalogue().written(id)),
    }
}

fn tempo_words(t: &Tempo) -> String {
    format!("tempo {}", t.words())
}

fn level_words(level: Option<u8>) -> String {
    level.map_or_else(String::new, |l| format!("L{l}: "))
}

fn lift_line(l: &LiftSets) -> String {
    let first = l.reps.first().copied().unwrap_or(0);
    let links = l.chain.iter().map(|(id, _)| format!(" + {}", catalogue().written(id)));
    let name = format!("{}{}", name_of(&l.movement), links.collect::<String>());
    let more: String = if l.chain.iter().any(|(_, n)| *n != 1) {
        l.chain.iter().map(|(_, n)| format!("+{n}")).collect()
    } else {
        String::new()
    };
    let mut parts = vec![match first {
        _ if l.by_cycle => format!("{name} from the cycle"),
        0 => format!("{name} {} x max", l.reps.len()),
        _ if l.even() => format!("{name} {} x {first}{more}", l.reps.len()),
        _ => format!("{name} {}", joined(&l.reps)),
    }];
    if let Some(p) = &l.percent {
        let values: Vec<String> = p.values.iter().map(|v| plain(*v)).collect();
        let bands = p.values.iter().zip(&p.tops).map(|(l, t)| format!("{}-{}", plain(*l), plain(*t)));
        let said = if p.tops.is_empty() { values.join("-") } else { bands.collect::<Vec<_>>().join(", ") };
        parts.push(format!("@ {said}%{}", of_words(&p.of)));
    }
    if let Some(kg) = l.kg {
        parts.push(format!("@ {}", l.typed.pair_words(kg)));
    }
    let mut out = parts.join(" ");
    let mut more = |text: String| out.push_str(&format!(", {text}"));
    if l.per_side {
        more("each side".to_owned());
    }
    if let Some(s) = l.every_s {
        more(format!("every {}", clock(f64::from(s))));
    }
    if let Some(s) = l.rest_s {
        more(format!("rest {}", clock(f64::from(s))));
    }
    if let Some(n) = l.last_at_top {
        more(format!("last {n} at top"));
    }
    if l.add_weight {
        more("add weight".to_owned());
    }
    if l.climb {
        more("build".to_owned());
    }
    if let Some(t) = &l.tempo {
        more(tempo_words(t));
    }
    if let Some(note) = &l.note {
        out.push_str(&format!(" ({note})"));
    }
    out
}

fn unit_words(unit: Unit) -> &'static str {
    match unit {
        Unit::Reps => "",
        Unit::Metres => " m",
        Unit::Calories => " cal",
        Unit::Seconds => " s",
    }
}

fn count_words(m: &MoveLine) -> String {
    let unit = unit_words(m.unit);
    match &m.count {
        Some(Count::Each(n)) => format!("{}{unit} ", plain(*n)),
        Some(Count::ByStandard(n)) => format!("{}{unit} ", pair(*n)),
        Some(Count::Scheme(reps)) => {
            format!("{}{} ", joined(reps), if m.unit == Unit::Calories { " cal" } else { "" })
        }
        Some(Count::Max) if m.unit == Unit::Calories => "max cal ".to_owned(),
        Some(Count::Max) => "max ".to_owned(),
        None if m.unit == Unit::Calories => "cal ".to_owned(),
        None => String::new(),
    }
}

/// One line of work as it stands on a sheet.
pub fn move_line(m: &MoveLine) -> String {
    let mut out = format!("{}{}", count_words(m), name_of(&m.movement));
    match &m.load {
        Some(Load::Kg { kg, implements, typed }) => {
            let kind = m.movement.id().and_then(|id| catalogue().movement(id)).map(|m| m.load);
            let usual = if kind == Some(LoadKind::DumbbellPair) { 2 } else { 1 };
            let times = if *implements == usual { String::new() } else { format!("{implements} x ") };
            out.push_str(&format!(" {times}{}", typed.pair_words(*kg)));
        }
        Some(Load::Percent { percent, of }) => {
            out.push_str(&format!(" @ {}%{}", plain(*percent), of_words(of)))
        }
        Some(Load::Word(w)) => out.push_str(&format!(" {}", w.word())),
        None => {}
    }
    if let Some(cm) = m.height_cm {
        out.push_str(&format!(" {} cm", pair(cm)));
    }
    if let Some(rise) = m.rise {
        let sign = if rise < 0.0 { "-" } else { "+" };
        out.push_str(&format!(", {sign}{} each round", plain(rise.abs())));
    }
    let flags = [
        m.per_side.then(|| "each side".to_owned()),
        m.tempo.as_ref().map(tempo_words),
        m.unbroken.then(|| "unbroken".to_owned()),
    ];
    for flag in flags.into_iter().flatten() {
        out.push_str(&format!(", {flag}"));
    }
    if let Some(note) = &m.note {
        out.push_str(&format!(" ({note})"));
    }
    if m.optional { format!("[{out}]") } else { out }
}

/// A wish as it stands on a sheet.
pub(crate) fn wish_line(w: &Wish) -> String {
    let name = |id: &str| catalogue().written(id);
    match w {
        Wish::MostSets { movement, sets } => format!("sets: {} <= {sets}", name(movement)),
        Wish::UnbrokenShare { movement, share } => {
            format!("unbroken: {} >= {}", name(movement), plain(*share))
        }
        Wish::LeastRest { seconds } => format!("rest: >= {} each cycle", clock(f64::from(*seconds))),
        Wish::LeastPace { reps_per_min } => format!("pace: >= {} reps/min", plain(*reps_per_min)),
        Wish::LongestRound { seconds } => format!("round: <= {}", clock(f64::from(*seconds))),
        Wish::Limit { what } => format!("limit: {what}"),
    }
}
