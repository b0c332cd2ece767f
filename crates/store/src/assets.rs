//! The instruments of a program's store room: what they are, and who has them.

use std::collections::{BTreeMap, BTreeSet};

use bright_row_core::instrument::Instrument;
use bright_row_core::matching::Condition;
use bright_row_core::{AssetId, ChildId, ProgramId};
use chrono::{DateTime, NaiveDate, Utc};
use sea_orm::ActiveValue::Set;
use sea_orm::sea_query::OnConflict;
use sea_orm::{ColumnTrait, ConnectionTrait, EntityTrait, FromQueryResult, QueryFilter, Statement};
use uuid::Uuid;

use crate::children::read_instrument;
use crate::circumstances::Made;
use crate::entity::{asset, loan};
use crate::error::StoreError;
use crate::tapes;

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

/// Who has an instrument.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Loan {
    /// Which.
    pub asset: AssetId,
    /// Who.
    pub child: ChildId,
    /// What the child is called.
    pub name: String,
    /// The child's class.
    pub class: bright_row_core::ClassId,
    /// What the class is called.
    pub class_name: String,
    /// Since when.
    pub since: DateTime<Utc>,
    /// Until when; `None` for now.
    pub until: Option<DateTime<Utc>>,
    /// The director keeps this pair.
    pub locked: bool,
}

const CONDITIONS: [(Condition, &str); 3] =
    [(Condition::Good, "good"), (Condition::Fair, "fair"), (Condition::Repair, "repair")];

/// The stored word of a condition.
#[must_use]
pub fn condition_word(condition: Condition) -> &'static str {
    CONDITIONS.iter().find(|(known, _)| *known == condition).map_or("good", |(_, word)| word)
}

/// The condition of a stored word.
#[must_use]
pub fn condition_of(word: &str) -> Option<Condition> {
    CONDITIONS.iter().find(|(_, known)| *known == word).map(|(condition, _)| *condition)
}

fn row(program: ProgramId, asset: &Asset) -> asset::ActiveModel {
    asset::ActiveModel {
        program_id: Set(program.uuid()),
        asset_id: Set(asset.id.uuid()),
        tag: Set(asset.tag.clone()),
        instrument: Set(asset.instrument.name().to_owned()),
        size: Set(asset.size.clone()),
        string_length_mm: Set(asset.string_length_mm),
        condition: Set(condition_word(asset.condition).to_owned()),
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
        condition_of(&row.condition).ok_or(StoreError::Unreadable { what: "condition", value: row.condition })?;
    Ok(Asset {
        id: row.asset_id.into(),
        tag: row.tag,
        instrument: read_instrument(row.instrument)?,
        size: row.size,
        string_length_mm: row.string_length_mm,
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

#[derive(FromQueryResult)]
struct LoanRow {
    asset_id: Uuid,
    child_id: Uuid,
    name: String,
    class_id: Uuid,
    class_name: String,
    since: DateTime<Utc>,
    until: Option<DateTime<Utc>>,
    locked: bool,
}

async fn loans(
    db: &impl ConnectionTrait,
    program: ProgramId,
    which: &str,
    asset: Option<AssetId>,
) -> Result<Vec<Loan>, StoreError> {
    let sql = format!(
        "select l.asset_id, l.child_id, c.name, c.class_id, k.name as class_name, l.since, l.until, l.locked
         from loan l
         join child c on c.program_id = l.program_id and c.child_id = l.child_id
         join class k on k.program_id = c.program_id and k.class_id = c.class_id
         where l.program_id = $1 and {which} order by l.since desc, l.loan_id desc"
    );
    let mut values = vec![program.uuid().into()];
    values.extend(asset.map(|asset| asset.uuid().into()));
    let rows = LoanRow::find_by_statement(Statement::from_sql_and_values(db.get_database_backend(), sql, values));
    let read = |row: LoanRow| Loan {
        asset: row.asset_id.into(),
        child: row.child_id.into(),
        name: row.name,
        class: row.class_id.into(),
        class_name: row.class_name,
        since: row.since,
        until: row.until,
        locked: row.locked,
    };
    Ok(rows.all(db).await?.into_iter().map(read).collect())
}

/// Who has which instrument now.
pub async fn lent(db: &impl ConnectionTrait, program: ProgramId) -> Result<BTreeMap<AssetId, Loan>, StoreError> {
    let now = loans(db, program, "l.until is null", None).await?;
    Ok(now.into_iter().map(|loan| (loan.asset, loan)).collect())
}

/// Everybody who has or had an instrument, newest first.
pub async fn history(db: &impl ConnectionTrait, program: ProgramId, asset: AssetId) -> Result<Vec<Loan>, StoreError> {
    loans(db, program, "l.asset_id = $2", Some(asset)).await
}

/// Gives instruments to children, or takes theirs (`None`), in one step with the rest of the transaction.
///
/// Whoever had one of these instruments gives it back, so that a swap is two pairs. A pair that is there already stays
/// as it is. Answers the children whose instrument changed.
pub async fn lend(
    db: &impl ConnectionTrait,
    program: ProgramId,
    pairs: &[(ChildId, Option<AssetId>)],
    now: DateTime<Utc>,
) -> Result<BTreeSet<ChildId>, StoreError> {
    let lent = lent(db, program).await?;
    let has: BTreeMap<ChildId, AssetId> = lent.values().map(|loan| (loan.child, loan.asset)).collect();
    let changes: Vec<&(ChildId, Option<AssetId>)> =
        pairs.iter().filter(|(child, asset)| has.get(child).copied() != *asset).collect();
    let mut ends: BTreeSet<ChildId> = BTreeSet::new();
    for (child, asset) in &changes {
        ends.extend(has.contains_key(child).then_some(*child));
        ends.extend(asset.and_then(|asset| lent.get(&asset)).map(|loan| loan.child));
    }
    if !ends.is_empty() {
        let over = loan::ActiveModel { until: Set(Some(now)), locked: Set(false), ..Default::default() };
        loan::Entity::update_many()
            .set(over)
            .filter(loan::Column::ProgramId.eq(program.uuid()))
            .filter(loan::Column::Until.is_null())
            .filter(loan::Column::ChildId.is_in(ends.iter().map(|child| child.uuid())))
            .exec(db)
            .await?;
    }
    let begin: Vec<_> = changes
        .iter()
        .filter_map(|(child, asset)| {
            asset.map(|asset| loan::ActiveModel {
                program_id: Set(program.uuid()),
                loan_id: Set(Uuid::now_v7()),
                asset_id: Set(asset.uuid()),
                child_id: Set(child.uuid()),
                since: Set(now),
                until: Set(None),
                locked: Set(false),
            })
        })
        .collect();
    if !begin.is_empty() {
        loan::Entity::insert_many(begin).exec_without_returning(db).await?;
    }
    Ok(ends.into_iter().chain(changes.iter().map(|(child, _)| *child)).collect())
}

/// Keeps a child's present pair whatever a match says, or lets it go.
pub async fn lock(
    db: &impl ConnectionTrait,
    program: ProgramId,
    child: ChildId,
    locked: bool,
) -> Result<(), StoreError> {
    loan::Entity::update_many()
        .set(loan::ActiveModel { locked: Set(locked), ..Default::default() })
        .filter(loan::Column::ProgramId.eq(program.uuid()))
        .filter(loan::Column::ChildId.eq(child.uuid()))
        .filter(loan::Column::Until.is_null())
        .exec(db)
        .await?;
    Ok(())
}
