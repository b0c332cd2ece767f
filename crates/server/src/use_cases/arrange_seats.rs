//! Seats kept.

use bright_row_core::ChildId;
use bright_row_core::number;
use bright_row_core::setup::rows::Seat;
use bright_row_core::setup::seating::Sitter;
use bright_row_store::ConnectionTrait;
use bright_row_store::children::{self, Child, measures};
use bright_row_store::classes::ClassKey;
use bright_row_store::classes::room::{self, Room};

use super::{begin_alone, commit};
use crate::auth::guard::Member;
use crate::error::ApiError;
use crate::state::App;

/// The children of a class as seats are found for them, by name, with their names.
///
/// # Errors
/// [`ApiError::Store`].
pub async fn sitters(db: &impl ConnectionTrait, key: ClassKey) -> Result<Vec<(Sitter, String)>, ApiError> {
    let mut children = children::of_class(db, key).await?;
    children.sort_by_key(|child| (child.name.to_lowercase(), child.id));
    let measured = measures::of_class(db, key).await?;
    let sitter = |child: Child| {
        let sitter = Sitter {
            height_mm: measured.get(&child.id).and_then(|m| m.measures.height_mm).map(number::whole),
            id: child.id,
            instrument: child.playing.now,
            near_front: child.near_front,
            near_aisle: child.near_aisle,
            locked: child.seat.is_some() && child.seat_locked,
            seat: child.seat,
        };
        (sitter, child.name)
    };
    Ok(children.into_iter().map(sitter).collect())
}

/// Keeps the room and every seat, once `check` has nothing against them for the room and the
/// children there are.
///
/// # Errors
/// What `check` says; [`ApiError::Store`]. Then nothing is changed.
pub async fn keep_seats(
    app: &App,
    member: &Member,
    (room, seats): (&Room, &[(ChildId, Seat, bool)]),
    check: impl FnOnce(&Room, &[Sitter]) -> Result<(), ApiError>,
) -> Result<(), ApiError> {
    let key = member.class.key;
    let tx = begin_alone(app, key.program).await?;
    let here: Vec<Sitter> = sitters(&tx, key).await?.into_iter().map(|(sitter, _)| sitter).collect();
    check(&room::of_class(&tx, key).await?, &here)?;
    room::set(&tx, key, room, seats).await?;
    commit(app, tx, [key.class]).await
}
