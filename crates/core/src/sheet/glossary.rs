//! Words and phrases of sheets, typed by the role that they play; embedded data that a hall can extend.

use crate::movement::{Found, canonical_words, catalogue};
use crate::words::Phrases;
use serde::{Deserialize, Serialize};
use std::sync::LazyLock;

/// What a phrase is on a line. The names are those of `glossary.toml`, where each stands with its phrases.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum Role {
    WarmUp,
    Strength,
    Skill,
    Workout,
    Accessory,
    CoolDown,
    ForTime,
    RoundsForTime,
    Quality,
    Amrap,
    Emom,
    Every,
    OtherMinute,
    ThirdMinute,
    Rounds,
    Through,
    Cycles,
    AlternatingClock,
    UntilFailure,
    On,
    Off,
    Stations,
    Intervals,
    InTheRest,
    Minutes,
    Seconds,
    Metres,
    Kilometres,
    Feet,
    Miles,
    Calories,
    Reps,
    Sets,
    Kilograms,
    Pounds,
    Centimetres,
    Inches,
    Percent,
    Effort,
    InReserve,
    RepMax,
    TrainingMax,
    OwnMax,
    BuildTo,
    Build,
    Single,
    Double,
    Triple,
    HeavyWord,
    NoMisses,
    AddWeight,
    SameWeight,
    FromCycle,
    Week,
    Superset,
    At,
    Light,
    Moderate,
    Heavy,
    Max,
    EachSide,
    Unbroken,
    Tempo,
    Optional,
    Bar,
    SameBar,
    Throughout,
    Cap,
    Target,
    Under,
    Over,
    Score,
    Rest,
    Between,
    AsNeeded,
    Pairs,
    InTurn,
    OneWorks,
    Share,
    Then,
    BuyIn,
    CashOut,
    AfterRound,
    EndOfRound,
    LastRound,
    EachRound,
    Add,
    Odd,
    Even,
    OnBreak,
    FromTheStart,
    Ladder,
    Level,
    Or,
    Home,
    AllLevels,
    Without,
    Filler,
    Harmless,
    Talk,
    Number,
}

impl Role {
    /// Roles to which a hall may add phrases, with the words for a person.
    pub const OPEN: [(Role, &'static str); 22] = [
        (Role::WarmUp, "heading of a warm-up"),
        (Role::Strength, "heading of strength"),
        (Role::Skill, "heading of skill work"),
        (Role::Workout, "heading of a workout"),
        (Role::Accessory, "heading of accessory work"),
        (Role::CoolDown, "heading of a cool-down"),
        (Role::ForTime, "for time"),
        (Role::Quality, "for quality, unscored"),
        (Role::Amrap, "as many rounds as possible"),
        (Role::Emom, "every minute"),
        (Role::Rounds, "rounds"),
        (Role::Stations, "stations"),
        (Role::Cap, "time cap"),
        (Role::Target, "target"),
        (Role::Rest, "rest"),
        (Role::EachSide, "each side"),
        (Role::Unbroken, "unbroken"),
        (Role::SameBar, "the same bar"),
        (Role::OneWorks, "one works, the others rest"),
        (Role::InTurn, "whole rounds in turn"),
        (Role::Share, "share the work"),
        (Role::Harmless, "decides nothing"),
    ];
}

/// A role, and its number where it has one (people of a team, rank of a level, a number in words).
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) struct Meaning {
    pub role: Role,
    pub value: u32,
}

/// A phrase that a hall has added: what is typed, and the role or the movement that it stands for.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub struct OwnPhrase {
    /// As typed.
    pub say: String,
    /// What it stands for.
    pub means: OwnMeaning,
}

/// What a hall's phrase stands for.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum OwnMeaning {
    /// A role of [`Role::OPEN`].
    Role(Role),
    /// A movement, by its id.
    Movement(String),
}

impl OwnPhrase {
    /// As it is typed in Settings: `storm = heading of a workout`, `quay hops = plate hop`.
    pub fn line(&self) -> String {
        let means = match &self.means {
            OwnMeaning::Role(role) => {
                Role::OPEN.iter().find(|(r, _)| r == role).map_or("", |(_, words)| words).to_owned()
            }
            OwnMeaning::Movement(id) => catalogue().written(id),
        };
        format!("{} = {means}", self.say)
    }

    /// Reads lines `phrase = meaning`; empty lines are passed over.
    ///
    /// # Errors
    /// Names the first line that cannot be read, and what to write.
    pub fn read_all(text: &str) -> Result<Vec<OwnPhrase>, String> {
        text.lines().map(str::trim).filter(|l| !l.is_empty()).map(OwnPhrase::read).collect()
    }

    fn read(line: &str) -> Result<OwnPhrase, String> {
        let Some((say, means)) = line.split_once('=').map(|(s, m)| (s.trim(), m.trim())) else {
            return Err(format!("“{line}” has no =. Write, say, quay hops = plate hop."));
        };
        if canonical_words(say).concat().chars().count() < 2 || say.chars().count() > 60 {
            return Err(format!("“{say}” is no phrase. Write 2 to 60 letters before the =."));
        }
        let words = canonical_words(means);
        let role = Role::OPEN.iter().find(|(_, w)| canonical_words(w) == words).map(|(r, _)| *r);
        if let Some(role) = role {
            return Ok(OwnPhrase { say: say.to_owned(), means: OwnMeaning::Role(role) });
        }
        let typed: Vec<&str> = means.split_whitespace().collect();
        match catalogue().find(&typed, false) {
            Found::Movement { id, words, .. } if words == typed.len() => {
                Ok(OwnPhrase { say: say.to_owned(), means: OwnMeaning::Movement(id) })
            }
            _ => {
                let near = catalogue().nearest(means, 1).first().map(|m| catalogue().written(&m.id));
                let near = near.map_or_else(String::new, |n| format!(" Did you mean {n}?"));
                Err(format!("“{means}” is no movement and no word of sheets that I know.{near}"))
            }
        }
    }
}

/// All phrases that are known.
#[derive(Debug, Clone, Default)]
pub struct Glossary {
    roles: Phrases<Vec<Meaning>>,
    /// Names of movements that the hall has added: catalogue ids.
    names: Phrases<String>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct File {
    phrase: Vec<Entry>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Entry {
    role: Role,
    #[serde(default)]
    value: u32,
    say: Vec<String>,
}

static STANDARD: LazyLock<Result<Glossary, String>> = LazyLock::new(Glossary::parse);
static NONE: LazyLock<Glossary> = LazyLock::new(Glossary::default);

impl Glossary {
    /// The embedded phrases. A test parses them; should that fail all the same, nothing is known, and reading says so.
    pub fn standard() -> &'static Glossary {
        STANDARD.as_ref().unwrap_or(&NONE)
    }

    /// Parses the embedded phrases.
    ///
    /// # Errors
    /// Names the role or key that is not known.
    pub fn parse() -> Result<Glossary, String> {
        let file: File = toml::from_str(include_str!("../../data/glossary.toml"))
            .map_err(|e| format!("glossary.toml: {e}"))?;
        let mut out = Glossary::default();
        for e in file.phrase {
            for say in &e.say {
                out.add(say, Meaning { role: e.role, value: e.value });
            }
        }
        Ok(out)
    }

    /// The embedded phrases with a hall's own; a phrase for a movement that is not known is left out.
    pub fn with(own: &[OwnPhrase]) -> Glossary {
        let mut out = Glossary::standard().clone();
        for p in own {
            match &p.means {
                OwnMeaning::Role(role) => out.add(&p.say, Meaning { role: *role, value: 0 }),
                OwnMeaning::Movement(id) if catalogue().movement(id).is_some() => {
                    out.names.add(&canonical_words(&p.say).concat(), id.clone());
                }
                OwnMeaning::Movement(_) => {}
            }
        }
        out
    }

    fn add(&mut self, say: &str, means: Meaning) {
        if let Some(all) = self.roles.entry(&canonical_words(say).concat(), Vec::new) {
            all.push(means);
        }
    }

    /// The meanings of every phrase that a row of words begins with, and how many words each takes.
    pub(super) fn walk<'w>(&self, words: impl Iterator<Item = &'w str>, out: &mut Vec<(Meaning, usize)>) {
        self.roles.each(words, |ms, n| out.extend(ms.iter().map(|m| (*m, n))));
    }

    /// A hall's own name of a movement at the start of a row of words.
    pub(super) fn own_name<'w>(&self, words: impl Iterator<Item = &'w str>) -> Option<(&str, usize)> {
        self.names.longest(words).map(|(id, n)| (id.as_str(), n))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_embedded_phrases_parse_and_every_open_role_has_one() {
        let g = Glossary::parse().unwrap();
        let walk = |words: &[&str]| {
            let mut out = Vec::new();
            g.walk(words.iter().copied(), &mut out);
            out
        };
        assert!(walk(&["for", "time"]).contains(&(Meaning { role: Role::ForTime, value: 0 }, 2)));
        assert!(walk(&["three"]).contains(&(Meaning { role: Role::Number, value: 3 }, 1)));
        let file: File = toml::from_str(include_str!("../../data/glossary.toml")).unwrap();
        for (role, words) in Role::OPEN {
            assert!(file.phrase.iter().any(|p| p.role == role), "{words}");
        }
    }

    #[test]
    fn a_hall_adds_phrases_and_names() {
        let own = |say: &str, means| OwnPhrase { say: say.to_owned(), means };
        let g = Glossary::with(&[
            own("Storm", OwnMeaning::Role(Role::Workout)),
            own("quay hops", OwnMeaning::Movement("plate-hop".to_owned())),
            own("nonsense", OwnMeaning::Movement("no-such-thing".to_owned())),
        ]);
        let mut found = Vec::new();
        g.walk(["storm"].into_iter(), &mut found);
        assert!(found.iter().any(|(m, _)| m.role == Role::Workout));
        assert_eq!(g.own_name(["quay", "hop"].into_iter()), Some(("plate-hop", 2)));
        assert_eq!(g.own_name(["nonsense"].into_iter()), None);
    }

    #[test]
    fn phrases_are_typed_a_line_each_and_wrong_ones_are_named() {
        let all = OwnPhrase::read_all("storm = heading of a workout\n\nquay hops = plate hops").unwrap();
        assert_eq!(all[0].means, OwnMeaning::Role(Role::Workout));
        assert_eq!(all[1].means, OwnMeaning::Movement("plate-hop".to_owned()));
        let again: Vec<String> = all.iter().map(OwnPhrase::line).collect();
        assert_eq!(OwnPhrase::read_all(&again.join("\n")).unwrap(), all);
        let wrong = |t: &str| OwnPhrase::read_all(t).unwrap_err();
        assert!(wrong("storm").contains("has no ="));
        assert!(wrong("x = burpee").contains("no phrase"));
        assert!(wrong("storm = plate hopp").contains("Did you mean plate hop?"));
    }
}
