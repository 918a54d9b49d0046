//! Blocks of a sheet as they are known again after an edit: what is decided and logged for one belongs to it, wherever it stands.

use crate::sheet::{Block, BlockKind};
use serde::{Deserialize, Serialize};

/// Blocks that left the sheet and are still known, should they come back.
const MOST_GONE: usize = 60;
/// Less alike than this, two blocks are not the same one (own).
const LEAST_ALIKE: f64 = 0.3;
/// Shares of the parts in how alike two blocks are (own): movements, name, clock, kind.
const PARTS: [f64; 4] = [0.45, 0.35, 0.1, 0.1];

/// What a block is known by.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Looks {
    /// Sets of lifts, not work on a clock.
    pub lifted: bool,
    /// What kind it is.
    pub kind: BlockKind,
    /// Its own name.
    pub name: Option<String>,
    /// What kind of clock it runs on.
    pub clock: String,
    /// Ids of its movements, in order.
    pub movements: Vec<String>,
}

impl Looks {
    fn of(b: &Block) -> Looks {
        let lifts = b.lifts.iter().map(|l| &l.movement).chain(b.builds.iter().map(|x| &x.movement));
        let moves = b.moves().map(|m| &m.movement);
        Looks {
            lifted: !b.lifts.is_empty() || !b.builds.is_empty(),
            kind: b.kind,
            name: b.name.clone(),
            clock: b.format().map(|f| f.word().to_owned()).unwrap_or_default(),
            movements: lifts.chain(moves).filter_map(|m| m.id()).map(str::to_owned).collect(),
        }
    }

    /// How alike two blocks are, 0 to 1; what is lifted is never taken for work on a clock.
    fn alike(&self, other: &Looks) -> f64 {
        if self.lifted != other.lifted {
            return 0.0;
        }
        let [movements, name, clock, kind] = PARTS;
        let shared = shared(&self.movements, &other.movements);
        let named = match (&self.name, &other.name) {
            (Some(a), Some(b)) => f64::from(u8::from(a == b)),
            // a block without a name is known by what is done in it
            _ => shared,
        };
        let is = |same: bool| f64::from(u8::from(same));
        movements * shared
            + name * named
            + clock * is(self.clock == other.clock)
            + kind * is(self.kind == other.kind)
    }
}

/// The share of two lists' movements that they have in common.
fn shared(a: &[String], b: &[String]) -> f64 {
    let mut left: Vec<&String> = b.iter().collect();
    let mut both = 0.0;
    for x in a {
        if let Some(i) = left.iter().position(|y| *y == x) {
            left.swap_remove(i);
            both += 1.0;
        }
    }
    let all = (a.len() + b.len()) as f64 - both;
    if all > 0.0 { both / all } else { 1.0 }
}

/// A block with its id.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct KeptBlock {
    /// Its own, for ever.
    pub id: u32,
    /// What it was known by last.
    pub looks: Looks,
}

/// The blocks of a sheet with their ids. Nothing known yet: ids are positions, as rows from before there were ids have them.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[serde(default)]
pub struct Blocks {
    /// On the sheet, in order.
    pub here: Vec<KeptBlock>,
    /// Not on it any more, the last to go first.
    pub gone: Vec<KeptBlock>,
}

impl Blocks {
    /// The blocks after an edit: each keeps the id of the one that it is most like, those that are new get the next.
    pub fn align(&self, now: &[Block]) -> Blocks {
        let now: Vec<Looks> = now.iter().map(Looks::of).collect();
        let old: Vec<(&KeptBlock, bool)> =
            self.here.iter().map(|b| (b, true)).chain(self.gone.iter().map(|b| (b, false))).collect();
        let mut pairs: Vec<(f64, bool, usize, usize, usize)> = Vec::new();
        for (i, (b, here)) in old.iter().enumerate() {
            for (k, looks) in now.iter().enumerate() {
                let alike = b.looks.alike(looks);
                if alike >= LEAST_ALIKE {
                    pairs.push((alike, *here, i.abs_diff(k), i, k));
                }
            }
        }
        // the most alike first; then who is still there, then who stands nearest
        pairs.sort_by(|a, b| {
            b.0.total_cmp(&a.0).then(b.1.cmp(&a.1)).then(a.2.cmp(&b.2)).then((a.3, a.4).cmp(&(b.3, b.4)))
        });
        let mut ids: Vec<Option<u32>> = vec![None; now.len()];
        let mut taken = vec![false; old.len()];
        for (.., i, k) in pairs {
            if let (Some(slot @ None), Some(t @ false), Some((b, _))) =
                (ids.get_mut(k), taken.get_mut(i), old.get(i))
            {
                *slot = Some(b.id);
                *t = true;
            }
        }
        let mut next = old.iter().map(|(b, _)| b.id.saturating_add(1)).max().unwrap_or(0);
        let here = now.into_iter().zip(ids).map(|(looks, id)| {
            let id = id.unwrap_or_else(|| {
                let id = next;
                next = next.saturating_add(1);
                id
            });
            KeptBlock { id, looks }
        });
        let here: Vec<KeptBlock> = here.collect();
        let mut gone: Vec<KeptBlock> =
            old.iter().zip(taken).filter(|(_, t)| !t).map(|((b, _), _)| (*b).clone()).collect();
        gone.truncate(MOST_GONE);
        Blocks { here, gone }
    }

    /// The id of the block at a position.
    pub fn id(&self, position: usize) -> Option<u32> {
        self.here.get(position).map(|b| b.id)
    }

    /// Where a block stands now; `None`: not on the sheet any more.
    pub fn position(&self, id: u32) -> Option<usize> {
        self.here.iter().position(|b| b.id == id)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::sheet::read;
    use proptest::prelude::*;

    fn ids(b: &Blocks) -> Vec<u32> {
        b.here.iter().map(|b| b.id).collect()
    }

    fn after(kept: &Blocks, text: &str) -> Blocks {
        kept.align(&read(text).sheet.blocks)
    }

    const SQUATS: &str = "# strength\nfront squat 5 x 3 @ 80% of 1RM\n";
    const QUAY: &str =
        "# workout \"Quay\" cap 14:00\n3 rounds for time\n12 power clean 60/42.5 kg\n200 m run\n";

    #[test]
    fn a_block_put_in_front_takes_no_results() {
        let first = after(&Blocks::default(), &format!("{SQUATS}{QUAY}"));
        assert_eq!(ids(&first), [0, 1], "rows from before there were ids have positions");
        let more = after(&first, &format!("# strength\ndeadlift 3 x 5 @ 70% of 1RM\n{SQUATS}{QUAY}"));
        assert_eq!(ids(&more), [2, 0, 1]);
        assert_eq!((more.position(1), more.id(0), more.position(9)), (Some(2), Some(2), None));
    }

    #[test]
    fn a_block_that_goes_comes_back_with_its_id() {
        let first = after(&Blocks::default(), &format!("{SQUATS}{QUAY}"));
        let without = after(&first, QUAY);
        assert_eq!((ids(&without), without.gone.len()), (vec![1], 1));
        assert_eq!(ids(&after(&without, &format!("{QUAY}{SQUATS}"))), [1, 0]);
        // what is done anew is not what was there
        let other = after(&first, "# workout\namrap 12:00\n10 burpees\n10 sit-ups");
        assert_eq!((ids(&other), other.gone.len()), (vec![2], 2));
    }

    #[test]
    fn figures_a_name_and_a_line_may_change() {
        let first = after(&Blocks::default(), &format!("{SQUATS}{QUAY}"));
        for text in [
            "# strength\nfront squat 4 x 4 @ 75% of 1RM\n# workout \"Quay\" cap 12:00\n4 rounds for time\n9 power clean 50/35 kg\n200 m run\n",
            "# strength\nfront squat 5 x 3 @ 80% of 1RM\n# workout \"Mole\" cap 14:00\n3 rounds for time\n12 power clean 60/42.5 kg\n200 m run\n",
            "# strength\nfront squat 5 x 3 @ 80% of 1RM\n# workout \"Quay\" cap 14:00\n3 rounds for time\n12 deadlifts 80/55 kg\n9 burpees\n",
        ] {
            assert_eq!(ids(&after(&first, text)), [0, 1], "{text}");
        }
    }

    #[test]
    fn the_same_block_twice_keeps_its_order() {
        let twice = after(&Blocks::default(), &format!("{QUAY}{QUAY}"));
        assert_eq!(ids(&after(&twice, &format!("{QUAY}{QUAY}"))), [0, 1]);
        assert_eq!(ids(&after(&twice, QUAY)), [0]);
    }

    /// Blocks that share no movement, so that each is known for sure.
    const POOL: [&str; 7] = [
        SQUATS,
        QUAY,
        "# strength\nbench press 4 x 6 @ 70% of 1RM\n",
        "# workout\namrap 12:00\n10 burpees\n10 sit-ups\n",
        "# workout\nevery 2:00 x 5\n12 cal row\n8 push-ups\n",
        "# workout cap 9:00\n21-15-9 for time\nthruster 43/30 kg\npull-ups\n",
        "# accessory\n3 rounds\n12 ring rows\n30 double-unders\n",
    ];

    proptest! {
        #![proptest_config(ProptestConfig { cases: 200, failure_persistence: None, ..ProptestConfig::default() })]

        #[test]
        fn through_any_edits_a_block_keeps_what_was_logged_for_it(
            edits in prop::collection::vec((0usize..3, 0usize..7, 0usize..7), 1..8),
        ) {
            let mut sheet: Vec<usize> = vec![0, 1];
            let text = |s: &[usize]| s.iter().filter_map(|i| POOL.get(*i)).copied().collect::<String>();
            let mut kept = after(&Blocks::default(), &text(&sheet));
            // logged for the workout
            let logged = kept.id(1).unwrap();
            for (what, block, at) in edits {
                match what {
                    0 if !sheet.contains(&block) => sheet.insert(at.min(sheet.len()), block),
                    1 => sheet.retain(|b| *b != block),
                    _ => {
                        let n = sheet.len().max(1);
                        sheet.rotate_left(at % n);
                    }
                }
                kept = after(&kept, &text(&sheet));
                prop_assert_eq!(kept.position(logged), sheet.iter().position(|b| *b == 1));
                let mut all = ids(&kept);
                all.extend(kept.gone.iter().map(|b| b.id));
                all.sort_unstable();
                all.dedup();
                prop_assert_eq!(all.len(), kept.here.len() + kept.gone.len(), "no id twice");
            }
        }
    }
}
