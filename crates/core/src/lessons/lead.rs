//! What a phone in the director's hand and the page on the projector say to each other while a drill is led.

use serde::{Deserialize, Serialize};
use uuid::Uuid;

use crate::craft::drills::{DrillLevel, MAX_TEMPO, MIN_TEMPO};
use crate::worded::worded;

/// The longest id of a drill, in characters.
const MAX_DRILL_ID_LENGTH: usize = 60;
/// More beats than any drill has.
const MAX_BEATS: u32 = 200_000;

worded! {
    /// What is wanted of the page that leads, or what it says of itself.
    LeadAction {
        /// Put up a drill.
        Open = "open",
        /// Start, or go on.
        Start = "start",
        /// Pause.
        Pause = "pause",
        /// From the beginning.
        Again = "again",
        /// On to the next round.
        Round = "round",
        /// On to the next step.
        Next = "next",
        /// Back to the step before.
        Previous = "previous",
        /// Another tempo.
        Tempo = "tempo",
        /// Another level.
        Level = "level",
        /// The hands drawn as in a mirror, or no longer.
        Mirror = "mirror",
        /// Say how it stands.
        Ask = "ask",
        /// How it stands.
        State = "state",
    }
}

/// One thing that is said.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase", deny_unknown_fields)]
pub struct LeadSignal {
    /// The page that says it, so that no page obeys itself.
    pub page: Uuid,
    /// What.
    pub action: LeadAction,
    /// The drill that it is about.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub drill: Option<String>,
    /// Beats a minute, 40 to 120.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub tempo: Option<u32>,
    /// The level.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub level: Option<DrillLevel>,
    /// The beat that it stands at, from 0.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub beat: Option<u32>,
    /// Whether it runs.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub running: Option<bool>,
}

impl LeadSignal {
    /// The field of it that cannot be and what to do, if there is one.
    #[must_use]
    pub fn fault(&self) -> Option<(&'static str, String)> {
        let drill =
            |id: &String| id.len() <= MAX_DRILL_ID_LENGTH && id.chars().all(|c| c.is_ascii_lowercase() || c == '-');
        if self.drill.as_ref().is_some_and(|id| !drill(id)) {
            return Some(("drill", "The id of a drill: small letters and hyphens.".to_owned()));
        }
        if self.tempo.is_some_and(|tempo| !(MIN_TEMPO..=MAX_TEMPO).contains(&tempo)) {
            return Some(("tempo", format!("{MIN_TEMPO} to {MAX_TEMPO} beats a minute.")));
        }
        if self.beat.is_some_and(|beat| beat > MAX_BEATS) {
            return Some(("beat", format!("At most {MAX_BEATS}.")));
        }
        None
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_cannot_be_is_said_by_its_field() {
        let fine = LeadSignal {
            page: Uuid::from_u128(1),
            action: LeadAction::Open,
            drill: Some("own-rocking-horse".to_owned()),
            tempo: Some(MIN_TEMPO),
            level: Some(DrillLevel::Bowed),
            beat: Some(0),
            running: Some(false),
        };
        assert_eq!(fine.fault(), None);
        let field = |signal: LeadSignal| signal.fault().map(|(field, _)| field);
        assert_eq!(field(LeadSignal { drill: Some("Nobody's name".to_owned()), ..fine.clone() }), Some("drill"));
        assert_eq!(field(LeadSignal { drill: Some("a".repeat(5000)), ..fine.clone() }), Some("drill"));
        assert_eq!(field(LeadSignal { tempo: Some(MAX_TEMPO + 1), ..fine.clone() }), Some("tempo"));
        assert_eq!(field(LeadSignal { beat: Some(u32::MAX), ..fine }), Some("beat"));
    }
}
