//! Clocks: what a line says piece by piece (`3 rounds`, `for time`, `every 2:00`, `x 8`, `3:00 on`), and the format that the
//! pieces make together. Times in seconds.
//!
//! Accepted, each with its format:
//!
//! | line | format |
//! | --- | --- |
//! | `4 RFT (TC 15)` | rounds-for-time 4 |
//! | `5 rds AFAP` | rounds-for-time 5 |
//! | `21-15-9` | scheme-for-time 3 |
//! | `10 to 1 for time` | scheme-for-time 10 |
//! | `12 min AMRAP` | amrap |
//! | `as many rounds as you can in 15 minutes` | amrap |
//! | `3 AMRAPs of 5 min, rest 2 min in between` | intervals 3 |
//! | `EMOM 16 alternate` | every-alternating 16 |
//! | `E3MOM X 6` | every 6 |
//! | `E90 x 8` | every 8 |
//! | `Every 2:00 for 16:00` | every 8 |
//! | `Every 2 min until you can't` | every-until-failure |
//! | `5 x (3' on / 1' off)` | intervals 5 |
//! | `4 intervals, 4 minutes of work / 2 minutes of rest` | intervals 4 |
//! | `3 rounds each 3 min rest a minute between` | intervals 3 |
//! | `4 stations, :45 work :15 move, 5 times round` | stations 5 |
//! | `:20 on :10 off x 8` | on-off 8 |

use super::model::Format;

/// Cycles that can be written; a clock of more than four hours is read, and refused where it is planned.
const MOST_CYCLES: u32 = 9_999;
/// Windows up to this long without a word are on/off work, longer ones intervals, s.
const SHORT_WINDOW: u32 = 89;

/// What a line or several say about a clock.
#[derive(Debug, Clone, PartialEq, Default)]
pub(super) struct Bits {
    pub rounds: Option<u32>,
    pub for_time: bool,
    pub quality: bool,
    pub scheme: Option<Vec<u32>>,
    /// Every line begins with so many, and has so many more each round.
    pub rising: Option<(u32, u32)>,
    pub amrap: bool,
    /// Several of them.
    pub amraps: Option<u32>,
    /// The time of an amrap, or minutes before or behind a clock word, s.
    pub length: Option<u32>,
    /// From one start to the next, s.
    pub every: Option<u32>,
    /// The clock word was `every minute`, which may also interrupt other work.
    pub minutely: bool,
    pub times: Option<u32>,
    pub alternating: bool,
    pub failure: bool,
    pub on: Option<u32>,
    pub off: Option<u32>,
    /// On and off were only numbers: `20/10`.
    pub bare_pair: bool,
    /// Each round lasts so long, s.
    pub each: Option<u32>,
    pub stations: bool,
    pub intervals: bool,
}

impl Bits {
    /// Joins what stands further on; whether the two can belong to one clock.
    pub fn join(&mut self, o: &Bits) -> bool {
        let both = |a: bool, b: bool| a && b;
        // said twice, in two languages or below each other, it is one
        let differ = |a: Option<u32>, b: Option<u32>| a.is_some() && b.is_some() && a != b;
        if (self.scheme.is_some() && o.scheme.is_some() && self.scheme != o.scheme)
            || both(self.amrap, o.every.is_some())
            || both(self.every.is_some(), o.amrap)
            || differ(self.rounds, o.rounds)
            || (both(self.amrap, o.amrap) && differ(self.length, o.length))
            || differ(self.every, o.every)
        {
            return false;
        }
        let pick = |a: &mut Option<u32>, b: Option<u32>| *a = a.or(b);
        pick(&mut self.rounds, o.rounds);
        pick(&mut self.amraps, o.amraps);
        pick(&mut self.length, o.length);
        pick(&mut self.every, o.every);
        pick(&mut self.times, o.times);
        pick(&mut self.on, o.on);
        pick(&mut self.off, o.off);
        pick(&mut self.each, o.each);
        self.scheme = self.scheme.take().or_else(|| o.scheme.clone());
        self.rising = self.rising.or(o.rising);
        for (a, b) in [
            (&mut self.for_time, o.for_time),
            (&mut self.quality, o.quality),
            (&mut self.amrap, o.amrap),
            (&mut self.minutely, o.minutely),
            (&mut self.alternating, o.alternating),
            (&mut self.failure, o.failure),
            (&mut self.bare_pair, o.bare_pair),
            (&mut self.stations, o.stations),
            (&mut self.intervals, o.intervals),
        ] {
            *a |= b;
        }
        true
    }

    /// Whether it has windows, so that a rest lies between them; stations without a change have theirs between rounds.
    pub fn windowed(&self) -> bool {
        let straight = self.stations && self.off == Some(0);
        !straight && self.has_windows()
    }

    fn has_windows(&self) -> bool {
        self.amraps.is_some()
            || self.each.is_some()
            || self.on.is_some()
            || (self.amrap && self.rounds.is_some())
    }

    /// Whether the clock is one that people are scored on or that runs: not rounds alone, not work with care.
    pub fn strong(&self) -> bool {
        self.for_time
            || self.amrap
            || self.every.is_some()
            || self.on.is_some()
            || self.each.is_some()
            || self.stations
            || self.intervals
            || self.scheme.as_ref().is_some_and(|s| s.len() > 2)
    }

    /// Whether only a number of rounds is said.
    pub fn only_rounds(&self) -> bool {
        self.rounds.is_some() && !self.strong() && !self.quality
    }

    /// Whether nothing is said that could be a clock by itself.
    pub fn hangs(&self) -> bool {
        !self.strong() && !self.quality && self.rounds.is_none() && self.scheme.is_none()
    }

    /// The format that the pieces make. `scored`: rounds and numbers alone run against the clock here. `rest`: rest
    /// between rounds or windows, s.
    ///
    /// # Errors
    /// [`Missing`] where the clock lacks its length.
    pub fn format(&self, scored: bool, rest: Option<u32>) -> Result<Option<Format>, Missing> {
        let n = |v: u32| v.clamp(1, MOST_CYCLES);
        let count = self.times.or(self.rounds).or(self.amraps);
        if let Some(on) = self.on.or(self.each).or(self.length.filter(|_| self.intervals)) {
            if on == 0 {
                return Err(Missing);
            }
            let said = self.off.or(rest);
            if self.stations {
                return Ok(Some(Format::Stations {
                    on,
                    off: said.unwrap_or(0),
                    rounds: n(count.unwrap_or(1)),
                }));
            }
            return self.windows(on, said, count.map(n));
        }
        if self.amrap {
            return self.amrap_format(rest, count.map(n));
        }
        if let Some(seconds) = self.every.filter(|s| *s > 0) {
            return self.cycles(seconds);
        }
        if self.stations || self.intervals {
            return Err(Missing);
        }
        Ok(self.by_rounds(scored))
    }

    fn amrap_format(&self, rest: Option<u32>, count: Option<u32>) -> Result<Option<Format>, Missing> {
        let seconds = self.length.filter(|s| *s > 0).ok_or(Missing)?;
        Ok(Some(match count.filter(|c| *c > 1) {
            Some(n) => Format::Intervals { on: seconds, off: rest.or(self.off).unwrap_or(0), n },
            None => Format::Amrap { seconds },
        }))
    }

    fn windows(&self, on: u32, off: Option<u32>, count: Option<u32>) -> Result<Option<Format>, Missing> {
        let lasts = self.length.filter(|_| self.on.is_some());
        let by_length = lasts.and_then(|l| off.map(|o| ((l + o) / (on + o).max(1)).max(1)));
        let Some(n) = count.or(by_length) else {
            return Err(Missing);
        };
        let off = off.unwrap_or(0);
        Ok(Some(if on <= SHORT_WINDOW && !self.intervals && self.each.is_none() {
            Format::OnOff { on, off, n, alternating: self.alternating }
        } else {
            Format::Intervals { on, off, n }
        }))
    }

    fn cycles(&self, seconds: u32) -> Result<Option<Format>, Missing> {
        if self.failure {
            return Ok(Some(Format::EveryUntilFailure { seconds }));
        }
        let n = match (self.times.or(self.rounds), self.length) {
            (Some(n), _) => n,
            (None, Some(all)) => all / seconds,
            (None, None) => return Err(Missing),
        };
        let n = n.clamp(1, MOST_CYCLES);
        Ok(Some(if self.alternating {
            Format::EveryAlternating { seconds, n }
        } else {
            Format::Every { seconds, n }
        }))
    }

    fn by_rounds(&self, scored: bool) -> Option<Format> {
        let scored = (scored || self.for_time) && !self.quality;
        if let Some(reps) = &self.scheme {
            return Some(if scored {
                Format::Scheme { reps: reps.clone() }
            } else {
                Format::Quality { rounds: 1, scheme: reps.clone() }
            });
        }
        if let Some(n) = self.rounds.or(self.times) {
            let n = n.clamp(1, 1000);
            return Some(if scored {
                Format::Rounds { n }
            } else {
                Format::Quality { rounds: n, scheme: Vec::new() }
            });
        }
        if self.for_time {
            return Some(Format::Chipper);
        }
        self.quality.then(|| Format::Quality { rounds: 1, scheme: Vec::new() })
    }
}

/// The clock lacks its length.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) struct Missing;
