//! What somebody may do in a program.

use crate::worded::worded;

worded! {
    /// What somebody may do in a program.
    Role {
        /// Everything: people, keeping, all classes.
        Owner = "owner",
        /// Everything of the classes that were given.
        Director = "director",
        /// Reads the classes that were given and records observations, and changes nothing else.
        Assistant = "assistant",
        /// For one class and until a time what an assistant may, without notes, answers to pain and history.
        Substitute = "substitute",
    }
}

impl Role {
    /// Whether one changes classes, children and settings; the others read and record.
    #[must_use]
    pub const fn may_change(self) -> bool {
        matches!(self, Self::Owner | Self::Director)
    }

    /// Whether one reads more of a class than a lesson needs: notes, answers to pain, history, lists and files.
    #[must_use]
    pub const fn looks_back(self) -> bool {
        !matches!(self, Self::Substitute)
    }

    /// Whether one is there for the whole program and not for the classes that were given.
    #[must_use]
    pub const fn has_all_classes(self) -> bool {
        matches!(self, Self::Owner)
    }
}

#[cfg(test)]
mod tests {
    use super::Role;

    #[test]
    fn owners_and_directors_change_and_only_a_substitute_does_not_look_back() {
        let changing: Vec<_> = Role::ALL.iter().filter(|role| role.may_change()).collect();
        assert_eq!(changing, [&Role::Owner, &Role::Director]);
        let looking_back: Vec<_> = Role::ALL.iter().filter(|role| role.looks_back()).collect();
        assert_eq!(looking_back, [&Role::Owner, &Role::Director, &Role::Assistant]);
        let everywhere: Vec<_> = Role::ALL.iter().filter(|role| role.has_all_classes()).collect();
        assert_eq!(everywhere, [&Role::Owner]);
    }
}
