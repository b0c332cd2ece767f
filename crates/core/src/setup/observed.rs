//! What setting up a child says of its first checkpoints: nobody looks at them twice.

use crate::craft::id::CheckpointId;
use crate::setup::body::SetUpPart;
use crate::setup::sizing::SizeProposal;

/// The checkpoint that says whether the size fits.
#[must_use]
pub fn size_checkpoint() -> CheckpointId {
    CheckpointId::new("hold.size")
}

/// The checkpoint at which something was found right.
#[must_use]
pub fn checkpoint_of(part: SetUpPart) -> CheckpointId {
    CheckpointId::new(match part {
        SetUpPart::Seat | SetUpPart::Stand => "hold.seat",
        SetUpPart::Pin | SetUpPart::Support => "hold.support",
    })
}

/// Whether an instrument of a size fits: it is the size proposed, or between two sizes the larger one.
#[must_use]
pub fn fits(proposal: &SizeProposal, size: &str) -> bool {
    [&proposal.proposed, &proposal.larger].into_iter().flatten().any(|fits| fits == size)
}
