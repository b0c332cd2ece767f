//! Who is let into which class: what was read before is used as far as the database says that it is still so.

use std::sync::Arc;

use bright_row_core::{AccountId, ClassId, ProgramId};
use bright_row_store::classes;
use chrono::{DateTime, Utc};

use super::guard::Member;
use crate::error::ApiError;
use crate::state::App;
use crate::turns::Fits;

/// The most that one statement asks for.
const TOGETHER: Fits<classes::Asks> = |before, _| before.len() < 100;

async fn admission(app: &App, program: ProgramId, asks: classes::Asks) -> Result<Option<classes::Admission>, ApiError> {
    let db = app.db.clone();
    let together = move |asking: Arc<[classes::Asks]>| {
        let db = db.clone();
        async move {
            match classes::admissions(&db, program, &asking).await {
                Ok(admissions) => admissions.into_iter().map(Ok).collect(),
                Err(error) => vec![Err(error); asking.len()],
            }
        }
    };
    Ok(app.admissions.ask(program, asks, TOGETHER, together).await??)
}

/// A class for somebody who may open it at a moment, read again only where something was set in its program since.
async fn opened(
    app: &App,
    account: AccountId,
    class: ClassId,
    at: DateTime<Utc>,
) -> Result<Option<classes::Opened>, ApiError> {
    if let Some(before) = app.kept_classes.get(&class) {
        let asks = classes::Asks { account, class, settled: before.settled, at };
        if let Some(admission) = admission(app, before.key.program, asks).await? {
            return Ok(Some(admission.opens(before)));
        }
    }
    let found = classes::for_account(&app.db, account, class, at).await?;
    if let Some(opened) = &found {
        app.kept_classes.keep(class, Arc::clone(&opened.class));
    }
    Ok(found)
}

/// Somebody who may open a class at a moment.
///
/// # Errors
/// [`ApiError::NotFound`], [`ApiError::SecondFactorFirst`].
pub(super) async fn let_in(
    app: &App,
    account: AccountId,
    class: ClassId,
    at: DateTime<Utc>,
) -> Result<Member, ApiError> {
    let found = opened(app, account, class, at).await?;
    member(account, found.ok_or(ApiError::NotFound("class"))?)
}

/// What somebody who may open a class is in it.
pub(super) fn member(account: AccountId, opened: classes::Opened) -> Result<Member, ApiError> {
    let classes::Opened { class, role, until, wants_second_factor } = opened;
    if wants_second_factor {
        return Err(ApiError::SecondFactorFirst);
    }
    Ok(Member { account, role, until, class })
}
