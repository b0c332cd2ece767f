//! What is noted of what people do: words for the audit, never contents.

use crate::worded::worded;

worded! {
    /// What somebody did.
    Deed {
        /// Signed in.
        SignedIn = "signed-in",
        /// Ended a session of the own account.
        DeviceEnded = "device-ended",
        /// Changed the own name or address.
        AccountChanged = "account-changed",
        /// Changed the own password, or took a link to a new one.
        PasswordChanged = "password-changed",
        /// Turned the own second factor on or off.
        SecondFactorChanged = "second-factor-changed",
        /// Made the program, at the first run.
        ProgramMade = "program-made",
        /// Gave the program another name.
        ProgramRenamed = "program-renamed",
        /// Took a copy of the whole program out.
        ProgramTakenOut = "program-taken-out",
        /// Brought a program in from a file.
        ProgramBroughtIn = "program-brought-in",
        /// Set how long things are kept, or what is demanded of people.
        KeepingChanged = "keeping-changed",
        /// Invited somebody.
        Invited = "invited",
        /// Took an invitation back.
        InvitationRevoked = "invitation-revoked",
        /// Came in by an invitation.
        Joined = "joined",
        /// Gave somebody another role or other classes.
        RoleChanged = "role-changed",
        /// Let somebody go.
        PersonRemoved = "person-removed",
        /// Made somebody a link to a new password.
        PasswordLinkMade = "password-link-made",
        /// Added a class.
        ClassAdded = "class-added",
        /// Gave a class another name.
        ClassRenamed = "class-renamed",
        /// Archived a class.
        ClassArchived = "class-archived",
        /// Opened an archived class again.
        ClassReopened = "class-reopened",
        /// Deleted a class.
        ClassDeleted = "class-deleted",
        /// Changed the settings of a class.
        SettingsChanged = "settings-changed",
        /// Changed who is in a class.
        RosterChanged = "roster-changed",
        /// Brought a file in.
        BroughtIn = "brought-in",
        /// Took a file out.
        TakenOut = "taken-out",
        /// Took everything out that is kept about a child.
        ChildTakenOut = "child-taken-out",
        /// Removed a child.
        ChildRemoved = "child-removed",
        /// Changed what counts for one child.
        ChildSettingsChanged = "child-settings-changed",
        /// Kept a small group.
        GroupKept = "group-kept",
        /// Ended a small group.
        GroupEnded = "group-ended",
        /// Made a class's calendar an address, in place of the one before.
        CalendarAddressMade = "calendar-address-made",
        /// Ended the address of a class's calendar.
        CalendarAddressEnded = "calendar-address-ended",
        /// Changed the store room.
        StoreRoomChanged = "store-room-changed",
        /// Old notes were cleared, as it is set.
        NotesCleared = "notes-cleared",
        /// Old entries of the audit were cleared, as it is set.
        AuditCleared = "audit-cleared",
        /// The database was restored from a backup.
        Restored = "restored",
    }
}
