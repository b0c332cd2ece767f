//! A child as the room shows it.

use serde::Serialize;
use serde_with::skip_serializing_none;

use crate::ChildId;
use crate::craft::instrument::Instrument;
use crate::number::share;
use crate::progress::ladder::Ladder;
use crate::progress::page::basis::Who;
use crate::progress::strand_view::StrandView;
use crate::progress::visits::Unseen;
use crate::seat::Seat;

/// A child in the room.
#[skip_serializing_none]
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct RoomChild {
    /// Who.
    pub id: ChildId,
    /// First name and one letter.
    pub name: String,
    /// What it plays.
    pub instrument: Instrument,
    /// Where it sits.
    pub seat: Option<Seat>,
    /// The mean of the four strings, 0 to 1.
    pub brightness: f64,
    /// Whether anybody has been at this child's chair.
    pub visited: bool,
    /// Meetings since the last visit, or since joining if there was none.
    pub meetings_unseen: u32,
    /// The four strings, in order.
    pub strings: Vec<StrandView>,
}

impl RoomChild {
    /// A child with this ladder, unseen for so long.
    #[must_use]
    pub fn new(who: Who, unseen: Unseen, ladder: &Ladder) -> Self {
        Self {
            id: who.id,
            name: who.name,
            instrument: who.playing.now,
            seat: who.seat,
            brightness: share(ladder.brightness()),
            visited: unseen.visited,
            meetings_unseen: unseen.meetings,
            strings: ladder.strands.to_vec(),
        }
    }
}
