//! Keys, one type for each thing, so that a member's key cannot stand for a class. Version 7: they sort by time.

use serde::{Deserialize, Serialize};
use uuid::Uuid;

macro_rules! id {
    ($name:ident, $what:literal) => {
        #[doc = concat!("Key of ", $what, ".")]
        #[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize)]
        #[serde(transparent)]
        pub struct $name(pub Uuid);

        impl $name {
            /// A new key.
            pub fn fresh() -> $name {
                $name(Uuid::now_v7())
            }
        }

        impl std::fmt::Display for $name {
            fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
                self.0.fmt(f)
            }
        }

        impl std::str::FromStr for $name {
            type Err = uuid::Error;
            fn from_str(s: &str) -> Result<$name, uuid::Error> {
                Uuid::parse_str(s).map($name)
            }
        }
    };
}
id!(GymId, "a gym");
id!(AccountId, "an account");
id!(SignInId, "a sign-in");
id!(MemberId, "a member");
id!(SessionId, "a day's session");
id!(ClassId, "a class");
id!(CycleId, "a cycle of a lift");
id!(RegularId, "a class of every week");
id!(EventId, "an event that another program sent");
id!(ProposalId, "what a member says of themselves");
id!(LinkId, "a link that is used once");
