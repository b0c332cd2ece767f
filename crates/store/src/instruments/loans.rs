//! Who has which instrument, and who had it.

use crate::entity::loan;
use crate::error::StoreError;
use bright_row_core::AssetId;
use bright_row_core::ChildId;
use bright_row_core::ProgramId;
use chrono::DateTime;
use chrono::Utc;
use sea_orm::ActiveValue::Set;
use sea_orm::ConnectionTrait;
use sea_orm::FromQueryResult;
use sea_orm::Statement;
use sea_orm::{ColumnTrait, EntityTrait, QueryFilter};
use std::collections::BTreeMap;
use std::collections::BTreeSet;
use uuid::Uuid;

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
    of: Option<Uuid>,
) -> Result<Vec<Loan>, StoreError> {
    let sql = format!(
        "select l.asset_id, l.child_id, c.name, c.class_id, k.name as class_name, l.since, l.until, l.locked
         from loan l
         join child c on c.program_id = l.program_id and c.child_id = l.child_id
         join class k on k.program_id = c.program_id and k.class_id = c.class_id
         where l.program_id = $1 and {which} order by l.since desc, l.loan_id desc"
    );
    let mut values = vec![program.uuid().into()];
    values.extend(of.map(Into::into));
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

/// Who has an instrument now.
pub async fn holder(db: &impl ConnectionTrait, program: ProgramId, asset: AssetId) -> Result<Option<Loan>, StoreError> {
    Ok(loans(db, program, "l.until is null and l.asset_id = $2", Some(asset.uuid())).await?.pop())
}

/// What a child has now.
pub async fn of_child(
    db: &impl ConnectionTrait,
    program: ProgramId,
    child: ChildId,
) -> Result<Option<Loan>, StoreError> {
    Ok(loans(db, program, "l.until is null and l.child_id = $2", Some(child.uuid())).await?.pop())
}

/// Everybody who has or had an instrument, newest first.
pub async fn history(db: &impl ConnectionTrait, program: ProgramId, asset: AssetId) -> Result<Vec<Loan>, StoreError> {
    loans(db, program, "l.asset_id = $2", Some(asset.uuid())).await
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
