//! Who has which instrument.

use std::collections::{BTreeMap, BTreeSet};

use bright_row_core::craft::instrument::Instrument;
use bright_row_core::{AssetId, ChildId};
use bright_row_store::instruments::{assets, loans};
use bright_row_store::{children, classes};

use super::{begin_alone, commit, observe_set_up, renew};
use crate::auth::guard::Member;
use crate::error::ApiError;
use crate::state::App;

/// What a child plays, and what kind an instrument is.
pub struct Kinds {
    /// By child, with those who left.
    pub children: BTreeMap<ChildId, Instrument>,
    /// By instrument of the inventory.
    pub assets: BTreeMap<AssetId, Instrument>,
}

/// Gives instruments to children and takes back those of whoever gets none, all or none, once `check` has nothing against
/// it. Everybody whose instrument changed, in whatever class of the program, is computed anew by the settings of that class.
///
/// # Errors
/// What `check` says; [`ApiError::Store`]. Then nothing is changed.
pub async fn lend(
    app: &App,
    member: &Member,
    pairs: &[(ChildId, Option<AssetId>)],
    check: impl FnOnce(&Kinds) -> Result<(), ApiError>,
) -> Result<(), ApiError> {
    let key = member.class.key;
    let tx = begin_alone(app, key.program).await?;
    let here = children::of_class(&tx, key).await?;
    let left = children::who_left(&tx, key).await?;
    let assets = assets::all(&tx, key.program).await?;
    check(&Kinds {
        children: here.iter().chain(&left).map(|child| (child.id, child.playing.now)).collect(),
        assets: assets.into_iter().map(|asset| (asset.id, asset.instrument)).collect(),
    })?;
    let changed: BTreeSet<ChildId> = loans::lend(&tx, key.program, pairs, app.now()).await?;
    // Every class of the program shows who has what.
    renew(app, &tx, key.program, &changed).await?;
    let classes = classes::of_program(&tx, key.program, None).await?;
    commit(app, tx, classes.into_iter().map(|class| class.key.class)).await?;
    // Also of who has the same as before: sent again after the program ended just here, nothing changes any more.
    let asked = pairs.iter().map(|(child, _)| *child).chain(changed).collect();
    observe_set_up::sizes(app, member, &asked).await
}
