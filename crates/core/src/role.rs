//! What somebody may do in a program.

use crate::worded::worded;

worded! {
    /// What somebody may do in a program.
    Role {
        /// Everything.
        Director = "director",
        /// Reads and records observations, and changes nothing else.
        Assistant = "assistant",
    }
}
