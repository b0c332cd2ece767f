//! Ids: one newtype for each kind of thing, so that a child's id cannot stand where a class's is wanted.

use serde::{Deserialize, Serialize};
use uuid::Uuid;

macro_rules! ids {
    ($($(#[$doc:meta])* $name:ident),+ $(,)?) => {$(
        $(#[$doc])*
        #[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
        #[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
        #[serde(transparent)]
        pub struct $name(Uuid);

        impl $name {
            /// The id as a plain UUID, for the database and the web.
            #[must_use]
            pub const fn uuid(self) -> Uuid {
                self.0
            }
        }

        impl $name {
            /// The id of nobody and nothing, where an id has to stand that no rule reads.
            #[must_use]
            pub const fn nobody() -> Self {
                Self(Uuid::nil())
            }
        }

        impl From<Uuid> for $name {
            fn from(id: Uuid) -> Self {
                Self(id)
            }
        }

        impl std::fmt::Display for $name {
            fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
                self.0.fmt(f)
            }
        }
    )+};
}

ids! {
    /// A school's string program: the owner of everything else.
    ProgramId,
    /// A person who signs in.
    AccountId,
    /// A class of children who meet together.
    ClassId,
    /// A child.
    ChildId,
    /// One thing seen, a `UUIDv7` made by the device that saw it.
    ObservationId,
    /// A round through the rows.
    RoundId,
    /// An instrument of the store room.
    AssetId,
    /// An entry in an instrument's tape log, a `UUIDv7` made by the device.
    TapeEventId,
    /// An import of a roster.
    ImportId,
    /// A small group that a director keeps, a `UUIDv7` made by the device.
    GroupId,
    /// What a family answered, a `UUIDv7` made by the device.
    AnswerId,
}
