//! What a handler may answer instead of what was asked for, as the description of the API lists it.

use utoipa::IntoResponses;

use super::Problem;

macro_rules! answers {
    ($($(#[$doc:meta])* $name:ident: $($kind:ident $status:literal),+;)+) => {$(
        $(#[$doc])*
        #[derive(IntoResponses)]
        pub enum $name {
            $(
                /// A problem.
                #[response(status = $status, content_type = "application/problem+json")]
                $kind(Problem),
            )+
        }
    )+};
}

answers! {
    /// What somebody of the class may be answered instead of what was asked for.
    ForMembers: SignInFirst 401, Forbidden 403, NotFound 404;
    /// The same, where what is asked may be impossible.
    ForMembersAsking: SignInFirst 401, Forbidden 403, NotFound 404, Invalid 422;
    /// The same, where a file is sent.
    ForMembersImporting: SignInFirst 401, Forbidden 403, NotFound 404, TooLarge 413, Invalid 422;
    /// What a director may be answered instead.
    ForDirectors: SignInFirst 401, Forbidden 403, NotFound 404, Conflict 409;
    /// The same, where what is sent may be impossible.
    ForDirectorsWriting: SignInFirst 401, Forbidden 403, NotFound 404, Conflict 409, Invalid 422;
    /// The same, where a document is written whole.
    ForDirectorsReplacing: SignInFirst 401, Forbidden 403, NotFound 404, Conflict 409, ChangedMeanwhile 412, Invalid 422;
    /// The same, where what is there may have changed.
    ForDirectorsAgreeing: SignInFirst 401, Forbidden 403, NotFound 404, Conflict 409, Invalid 422;
    /// The same, where a file is sent.
    ForDirectorsImporting: SignInFirst 401, Forbidden 403, NotFound 404, Conflict 409, TooLarge 413, Invalid 422;
    /// What an owner of a program may be answered instead.
    ForOwners: SignInFirst 401, Forbidden 403, NotFound 404;
    /// The same, where what is sent may be impossible.
    ForOwnersWriting: SignInFirst 401, Forbidden 403, NotFound 404, Conflict 409, Invalid 422;
    /// The same, where what is asked may be impossible.
    ForOwnersTaking: SignInFirst 401, Forbidden 403, NotFound 404, Invalid 422;
    /// The same, where a file is sent.
    ForOwnersImporting: SignInFirst 401, Forbidden 403, NotFound 404, Conflict 409, TooLarge 413, Invalid 422;
    /// The same, where a document is written whole.
    ForOwnersReplacing: SignInFirst 401, Forbidden 403, NotFound 404, ChangedMeanwhile 412, Invalid 422;
    /// What somebody may be answered about the own account.
    ForAccounts: SignInFirst 401, Forbidden 403, NotFound 404;
    /// The same, where what is sent may be impossible.
    ForAccountsWriting: SignInFirst 401, Forbidden 403, Invalid 422;
    /// The same, of something that has to be there.
    ForAccountsRemoving: SignInFirst 401, Forbidden 403, NotFound 404, Invalid 422;
    /// What whoever follows a link may be answered instead.
    ForLinks: LinkOver 410, Invalid 422;
    /// What a calendar that subscribes may be answered instead.
    ForSubscribers: LinkOver 410;
}
