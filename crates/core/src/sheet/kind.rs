//! What a line of a sheet was read as.

use serde::Serialize;

/// What a line of a sheet was read as.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum LineKind {
    Title,
    Day,
    Heading,
    Clock,
    Work,
    /// Buy-in, interruption, ladder and the like.
    Around,
    /// A new part.
    Part,
    Team,
    Rest,
    Sets,
    Build,
    Week,
    /// Cap, target and what every version keeps.
    Keep,
    Score,
    /// A line that stands in for the one above without some kit.
    Variant,
    /// The coach's own lighter version or option.
    Level,
    /// A weight for several lines.
    Bar,
    /// Drills and words kept as they are.
    Note,
    /// Kept as it is, though it holds numbers: to look at.
    Unread,
    /// To the class: not work.
    Message,
}

/// How sure the reader is of a line's place.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[serde(rename_all = "kebab-case")]
pub enum Sure {
    /// Nothing else comes near.
    Sure,
    /// Read from the lines around it.
    Inferred,
    /// Not read.
    Unread,
}
