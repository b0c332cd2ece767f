//! The instruments of a program's store room: what they are, and who has them.

use std::collections::BTreeMap;

use bright_row_core::craft::instrument::Instrument;
use bright_row_core::setup::matching::Condition;
use bright_row_core::{AssetId, ProgramId};
use chrono::{NaiveDate, Utc};
use sea_orm::ActiveValue::Set;
use sea_orm::sea_query::{Expr, OnConflict};
use sea_orm::{ColumnTrait, ConnectionTrait, EntityTrait, QueryFilter};

use crate::accounts::Made;
use crate::entity::asset;
use crate::error::StoreError;
use crate::instruments::tapes;
use crate::rows::read_instrument;

/// An instrument.
#[derive(Clone, Debug, PartialEq)]
pub struct Asset {
    /// Which.
    pub id: AssetId,
    /// The tag on it; one of its kind in the program, whatever the case of its letters.
    pub tag: String,
    /// Its kind.
    pub instrument: Instrument,
    /// Its size.
    pub size: String,
    /// Nut to bridge, measured on this very instrument, in millimetres.
    pub string_length_mm: Option<f64>,
    /// How far the string is from the fingerboard at the third finger, in millimetres.
    pub string_height_mm: Option<f64>,
    /// How it is.
    pub condition: Condition,
    /// What is to be known about it.
    pub condition_note: String,
    /// Since when it is so.
    pub condition_since: NaiveDate,
    /// It has a bow.
    pub bow: bool,
    /// A sponge or rest kept with it; empty for none.
    pub support: String,
    /// A stop or strap kept with it; empty for none.
    pub pin_anchor: String,
    /// It has a case.
    pub case: bool,
}

fn row(program: ProgramId, asset: &Asset) -> asset::ActiveModel {
    asset::ActiveModel {
        program_id: Set(program.uuid()),
        asset_id: Set(asset.id.uuid()),
        tag: Set(asset.tag.clone()),
        instrument: Set(asset.instrument.name().to_owned()),
        size: Set(asset.size.clone()),
        string_length_mm: Set(asset.string_length_mm),
        string_height_mm: Set(asset.string_height_mm),
        condition: Set(asset.condition.word().to_owned()),
        condition_note: Set(asset.condition_note.clone()),
        condition_since: Set(asset.condition_since),
        bow: Set(asset.bow),
        support: Set(asset.support.clone()),
        pin_anchor: Set(asset.pin_anchor.clone()),
        has_case: Set(asset.case),
        created_at: Set(Utc::now()),
    }
}

fn read(row: asset::Model) -> Result<Asset, StoreError> {
    let condition =
        Condition::parse(&row.condition).ok_or(StoreError::Unreadable { what: "condition", value: row.condition })?;
    Ok(Asset {
        id: row.asset_id.into(),
        tag: row.tag,
        instrument: read_instrument(row.instrument)?,
        size: row.size,
        string_length_mm: row.string_length_mm,
        string_height_mm: row.string_height_mm,
        condition,
        condition_note: row.condition_note,
        condition_since: row.condition_since,
        bow: row.bow,
        support: row.support,
        pin_anchor: row.pin_anchor,
        case: row.has_case,
    })
}

/// Every instrument of a program, by tag.
pub async fn all(db: &impl ConnectionTrait, program: ProgramId) -> Result<Vec<Asset>, StoreError> {
    let rows = asset::Entity::find().filter(asset::Column::ProgramId.eq(program.uuid())).all(db).await?;
    let mut assets: Vec<Asset> = rows.into_iter().map(read).collect::<Result<_, _>>()?;
    assets.sort_by_key(|asset| (asset.tag.to_lowercase(), asset.id));
    Ok(assets)
}

/// One instrument of a program.
pub async fn one(db: &impl ConnectionTrait, program: ProgramId, asset: AssetId) -> Result<Option<Asset>, StoreError> {
    let found = asset::Entity::find_by_id((program.uuid(), asset.uuid())).one(db).await?;
    found.map(read).transpose()
}

/// The instrument of a program that has this tag, whatever the case of its letters.
pub async fn of_tag(db: &impl ConnectionTrait, program: ProgramId, tag: &str) -> Result<Option<Asset>, StoreError> {
    let same = Expr::cust_with_values("lower(tag) = lower($1)", [tag]);
    let found = asset::Entity::find().filter(asset::Column::ProgramId.eq(program.uuid())).filter(same).one(db).await?;
    found.map(read).transpose()
}

/// Adds instruments, or writes those that are there; to be called in a transaction. A length that was not on record goes
/// into the instrument's tape log. A tag that another instrument of the program has is a [`StoreError::Conflict`].
pub async fn keep(
    db: &impl ConnectionTrait,
    program: ProgramId,
    assets: &[Asset],
    made: Made,
) -> Result<(), StoreError> {
    if assets.is_empty() {
        return Ok(());
    }
    tapes::hold(db, program, assets.iter().map(|asset| asset.id)).await?;
    let before: BTreeMap<AssetId, Option<f64>> =
        all(db, program).await?.into_iter().map(|asset| (asset.id, asset.string_length_mm)).collect();
    let replace = OnConflict::columns([asset::Column::ProgramId, asset::Column::AssetId])
        .update_columns([
            asset::Column::Tag,
            asset::Column::Instrument,
            asset::Column::Size,
            asset::Column::StringLengthMm,
            asset::Column::Condition,
            asset::Column::ConditionNote,
            asset::Column::ConditionSince,
            asset::Column::Bow,
            asset::Column::Support,
            asset::Column::PinAnchor,
            asset::Column::HasCase,
        ])
        .to_owned();
    for assets in assets.chunks(2000) {
        let rows = assets.iter().map(|asset| row(program, asset));
        asset::Entity::insert_many(rows).on_conflict(replace.clone()).exec_without_returning(db).await?;
    }
    let measured = assets.iter().filter_map(|asset| {
        let same = before.get(&asset.id).copied().flatten() == asset.string_length_mm;
        Some((asset.id, asset.string_length_mm.filter(|_| !same)?))
    });
    tapes::measured(db, program, &measured.collect::<Vec<_>>(), made.by, made.at).await
}
