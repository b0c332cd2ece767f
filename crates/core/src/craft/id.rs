//! Ids of the craft: checkpoints, stages, slips, symptoms; and what an observation may be about.

use std::borrow::Borrow;

use serde::{Deserialize, Serialize};
use smol_str::SmolStr;

macro_rules! text_ids {
    ($($(#[$doc:meta])* $name:ident),+ $(,)?) => {$(
        $(#[$doc])*
        #[derive(Clone, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
        #[serde(transparent)]
        pub struct $name(SmolStr);

        impl $name {
            /// An id as it stands in content, an observation or the database; whether it is known is the checklist's to say.
            #[must_use]
            pub fn new(text: impl Into<SmolStr>) -> Self {
                Self(text.into())
            }

            /// The id as text.
            #[must_use]
            pub fn as_str(&self) -> &str {
                &self.0
            }
        }

        impl Borrow<str> for $name {
            fn borrow(&self) -> &str {
                &self.0
            }
        }

        impl std::fmt::Display for $name {
            fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
                f.write_str(&self.0)
            }
        }
    )+};
}

text_ids! {
    /// A checkpoint's id: strand and word, `hold.tall`.
    CheckpointId,
    /// A stage's id: strand and number, `hold.4`.
    StageId,
    /// A slip's id: `wrist-in`.
    SlipId,
}

/// A symptom's id: `buzz`.
#[derive(Clone, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(transparent)]
pub struct SymptomId(pub String);

/// What an observation speaks of: one checkpoint, or a reached stage as a whole.
#[derive(Clone, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub enum Target {
    /// One checkpoint.
    Checkpoint(CheckpointId),
    /// A stage look: it vouches for every checkpoint of the stage but the excepted ones.
    Stage(StageId),
}

impl Serialize for Target {
    fn serialize<S: serde::Serializer>(&self, to: S) -> Result<S::Ok, S::Error> {
        to.serialize_str(self.id())
    }
}

impl<'de> Deserialize<'de> for Target {
    fn deserialize<D: serde::Deserializer<'de>>(from: D) -> Result<Self, D::Error> {
        Ok(Self::from_id(&String::deserialize(from)?))
    }
}

impl Target {
    /// The id as it is stored and sent; checkpoint and stage ids never collide (`hold.tall`, `hold.3`).
    #[must_use]
    pub fn id(&self) -> &str {
        match self {
            Self::Checkpoint(id) => id.as_str(),
            Self::Stage(id) => id.as_str(),
        }
    }

    /// The target of a stored id, by its form alone: a number at the end makes it a stage.
    #[must_use]
    pub fn from_id(id: &str) -> Self {
        let end = id.rsplit('.').next().unwrap_or_default();
        if !end.is_empty() && end.chars().all(|c| c.is_ascii_digit()) {
            Self::Stage(StageId::new(id))
        } else {
            Self::Checkpoint(CheckpointId::new(id))
        }
    }
}
