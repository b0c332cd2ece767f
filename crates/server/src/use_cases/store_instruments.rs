//! Instruments kept in the program's inventory, one or a file of them.

use std::collections::BTreeMap;

use bright_row_core::AssetId;
use bright_row_store::StoreError;
use bright_row_store::accounts::Made;
use bright_row_store::instruments::assets::{self, Asset};
use bright_row_store::instruments::loans::{self, Loan};

use super::{begin, commit};
use crate::auth::guard::Member;
use crate::error::{ApiError, FieldError};
use crate::state::App;

/// Shows `decide` the inventory and who has what, and keeps the instruments it answers with what it made of them; without
/// instruments nothing is stored.
///
/// # Errors
/// What `decide` fails with; [`ApiError::Invalid`] for a tag that another instrument has.
pub async fn store_instruments<T>(
    app: &App,
    member: &Member,
    decide: impl FnOnce(&[Asset], &BTreeMap<AssetId, Loan>) -> Result<(T, Option<Vec<Asset>>), ApiError>,
) -> Result<T, ApiError> {
    let key = member.class.key;
    let tx = begin(app).await?;
    let known = assets::all(&tx, key.program).await?;
    let lent = loans::lent(&tx, key.program).await?;
    let (answer, keep) = decide(&known, &lent)?;
    let Some(keep) = keep else { return Ok(answer) };
    let made = Made { by: member.account, at: app.now() };
    assets::keep(&tx, key.program, &keep, made).await.map_err(|error| match error {
        StoreError::Conflict => {
            ApiError::Invalid(vec![FieldError::new("tag", "Another instrument has this tag. Give each its own.")])
        }
        other => ApiError::Store(other),
    })?;
    commit(app, tx, [key.class]).await?;
    Ok(answer)
}
