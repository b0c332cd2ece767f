//! Instruments kept in the program's inventory, one or a file of them.

use std::collections::BTreeMap;

use bright_row_core::AssetId;
use bright_row_store::StoreError;
use bright_row_store::accounts::Made;
use bright_row_store::headings::{self, FileKind};
use bright_row_store::instruments::assets::{self, Asset};
use bright_row_store::instruments::loans::{self, Loan};
use uuid::Uuid;

use super::{begin_alone, commit, done_before, note_done};
use crate::auth::guard::Member;
use crate::error::{ApiError, FieldError};
use crate::state::App;

/// Shows `decide` the inventory, who has what and whether the request of this id was done before, and keeps the instruments it
/// answers with what it made of them, and what headings of their file were `meant` to be; without instruments nothing is stored.
///
/// # Errors
/// What `decide` fails with; [`ApiError::Invalid`] for a tag that another instrument has.
pub async fn store_instruments<T>(
    app: &App,
    member: &Member,
    request: Option<Uuid>,
    meant: &BTreeMap<String, String>,
    decide: impl FnOnce(&[Asset], &BTreeMap<AssetId, Loan>, bool) -> Result<(T, Option<Vec<Asset>>), ApiError>,
) -> Result<T, ApiError> {
    let key = member.class.key;
    let tx = begin_alone(app, key.program).await?;
    let known = assets::all(&tx, key.program).await?;
    let lent = loans::lent(&tx, key.program).await?;
    let done = done_before(&tx, key.program, request).await?.is_some();
    let (answer, keep) = decide(&known, &lent, done)?;
    let Some(keep) = keep.filter(|_| !done) else { return Ok(answer) };
    let made = Made { by: member.account, at: app.now() };
    assets::keep(&tx, key.program, &keep, made).await.map_err(|error| match error {
        StoreError::Conflict => {
            ApiError::Invalid(vec![FieldError::new("tag", "Another instrument has this tag. Give each its own.")])
        }
        other => ApiError::Store(other),
    })?;
    headings::remember(&tx, key.program, FileKind::Inventory, meant).await?;
    note_done(app, &tx, key.program, request, "").await?;
    commit(app, tx, [key.class]).await?;
    Ok(answer)
}
