//! A gym's kit.

use crate::error::Result;
use crate::ids::GymId;
use crate::schema::kit;
use diesel::prelude::*;
use lantern_core::kinds::Gear;
use lantern_core::kit::{Kit, Stock};
use lantern_core::sheet::WeightUnit;

/// Kind of the row that holds a collar's mass.
const COLLAR: &str = "collar";

/// Kind of the row that says that masses are marked in pounds; without it they are in kilograms. All are kept in kg.
const POUNDS: &str = "pounds";

/// The kit of a gym; empty when none was entered.
///
/// # Errors
/// When the database is away.
pub fn find(conn: &mut PgConnection, gym: GymId) -> Result<Kit> {
    let rows = kit::table
        .filter(kit::gym_id.eq(gym.0))
        .order((kit::kind, kit::size.desc()))
        .select((kit::kind, kit::size, kit::count))
        .load::<(String, f64, i32)>(conn)?;
    let mut out = Kit::default();
    for (kind, size, count) in rows {
        let count = u32::try_from(count).unwrap_or(0);
        match list_of(&mut out, &kind) {
            Some(list) => list.push(Stock { size, count }),
            None if kind == COLLAR => out.collar_kg = size,
            None if kind == POUNDS => out.unit = WeightUnit::Lb,
            // what this version does not count changes no plan
            None => drop(Gear::from_word(&kind).map(|g| out.counts.insert(g, count))),
        }
    }
    Ok(out)
}

fn list_of<'a>(kit: &'a mut Kit, kind: &str) -> Option<&'a mut Vec<Stock>> {
    Some(match kind {
        "bar" => &mut kit.bars,
        "plate" => &mut kit.plates,
        "dumbbell" => &mut kit.dumbbells,
        "kettlebell" => &mut kit.kettlebells,
        "ball" => &mut kit.balls,
        "box" => &mut kit.boxes,
        _ => return None,
    })
}

/// Replaces the kit of a gym.
///
/// # Errors
/// `Refused` for sizes or counts outside what can be kept.
pub fn change(conn: &mut PgConnection, gym: GymId, new: &Kit) -> Result<()> {
    let lists = [
        ("bar", &new.bars),
        ("plate", &new.plates),
        ("dumbbell", &new.dumbbells),
        ("kettlebell", &new.kettlebells),
        ("ball", &new.balls),
        ("box", &new.boxes),
    ];
    let mut rows: Vec<(&str, f64, i32)> = lists
        .into_iter()
        .flat_map(|(kind, list)| {
            list.iter().map(move |s| (kind, s.size, i32::try_from(s.count).unwrap_or(i32::MAX)))
        })
        .collect();
    rows.push((COLLAR, new.collar_kg, 1));
    if new.pounds() {
        rows.push((POUNDS, 0.0, 1));
    }
    rows.extend(new.counts.iter().map(|(k, n)| (k.word(), 0.0, i32::try_from(*n).unwrap_or(i32::MAX))));
    let rows: Vec<_> = rows
        .into_iter()
        .map(|(kind, size, count)| {
            (kit::gym_id.eq(gym.0), kit::kind.eq(kind.to_owned()), kit::size.eq(size), kit::count.eq(count))
        })
        .collect();
    conn.transaction(|conn| {
        diesel::delete(kit::table.filter(kit::gym_id.eq(gym.0))).execute(conn)?;
        diesel::insert_into(kit::table).values(rows).on_conflict_do_nothing().execute(conn)?;
        Ok(())
    })
}
