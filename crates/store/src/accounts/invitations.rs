//! Links and codes that let somebody in once, and links to a new password.

use std::collections::BTreeSet;

use bright_row_core::role::Role;
use bright_row_core::{AccountId, ClassId, ProgramId};
use chrono::{DateTime, Utc};
use sea_orm::ActiveValue::Set;
use sea_orm::{ColumnTrait, ConnectionTrait, EntityTrait, QueryFilter, QueryOrder, QuerySelect, QueryTrait};
use uuid::Uuid;

use super::{Made, read_role};
use crate::entity::{invitation, invitation_class, password_link};
use crate::error::StoreError;

/// An invitation as it is kept; its secret is with whoever was given the link.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Invitation {
    /// Into which program.
    pub program: ProgramId,
    /// Which.
    pub id: Uuid,
    /// To what.
    pub role: Role,
    /// A substitute's name; for others whom the link is for.
    pub name: String,
    /// The classes given with it.
    pub classes: BTreeSet<ClassId>,
    /// Until when a substitute is let in.
    pub until: Option<DateTime<Utc>>,
    /// By whom and when.
    pub made: Made,
    /// Until when it can be used.
    pub expires_at: DateTime<Utc>,
}

/// Keeps an invitation under the hash of its secret; to be called in a transaction.
pub async fn add(db: &impl ConnectionTrait, new: &Invitation, secret_hash: &[u8]) -> Result<(), StoreError> {
    let row = invitation::ActiveModel {
        program_id: Set(new.program.uuid()),
        invitation_id: Set(new.id),
        secret_hash: Set(secret_hash.to_vec()),
        role: Set(new.role.word().to_owned()),
        name: Set(new.name.clone()),
        until: Set(new.until),
        made_at: Set(new.made.at),
        made_by: Set(new.made.by.uuid()),
        expires_at: Set(new.expires_at),
        used_at: Set(None),
        used_by: Set(None),
        revoked_at: Set(None),
    };
    invitation::Entity::insert(row).exec_without_returning(db).await?;
    let classes = new.classes.iter().map(|class| invitation_class::ActiveModel {
        program_id: Set(new.program.uuid()),
        invitation_id: Set(new.id),
        class_id: Set(class.uuid()),
    });
    let classes: Vec<_> = classes.collect();
    if !classes.is_empty() {
        invitation_class::Entity::insert_many(classes).exec_without_returning(db).await?;
    }
    Ok(())
}

async fn read(db: &impl ConnectionTrait, row: invitation::Model) -> Result<Invitation, StoreError> {
    let classes = invitation_class::Entity::find()
        .filter(invitation_class::Column::ProgramId.eq(row.program_id))
        .filter(invitation_class::Column::InvitationId.eq(row.invitation_id))
        .all(db)
        .await?;
    Ok(Invitation {
        program: row.program_id.into(),
        id: row.invitation_id,
        role: read_role(&row.role)?,
        name: row.name,
        classes: classes.into_iter().map(|one| one.class_id.into()).collect(),
        until: row.until,
        made: Made { by: row.made_by.into(), at: row.made_at },
        expires_at: row.expires_at,
    })
}

/// Those that can still be used, the newest first.
pub async fn open(
    db: &impl ConnectionTrait,
    program: ProgramId,
    now: DateTime<Utc>,
) -> Result<Vec<Invitation>, StoreError> {
    let rows = invitation::Entity::find()
        .filter(invitation::Column::ProgramId.eq(program.uuid()))
        .filter(invitation::Column::UsedAt.is_null())
        .filter(invitation::Column::RevokedAt.is_null())
        .filter(invitation::Column::ExpiresAt.gt(now))
        .order_by_desc(invitation::Column::MadeAt)
        .all(db)
        .await?;
    let mut all = Vec::new();
    for row in rows {
        all.push(read(db, row).await?);
    }
    Ok(all)
}

/// The invitation of a secret that can be used at this moment, held until the transaction ends: it is used once. Of a secret that names
/// no program every program is asked.
pub async fn of_secret(
    db: &impl ConnectionTrait,
    program: Option<ProgramId>,
    secret_hash: &[u8],
    now: DateTime<Utc>,
) -> Result<Option<Invitation>, StoreError> {
    let row = invitation::Entity::find()
        .apply_if(program, |found, program| found.filter(invitation::Column::ProgramId.eq(program.uuid())))
        .filter(invitation::Column::SecretHash.eq(secret_hash.to_vec()))
        .filter(invitation::Column::UsedAt.is_null())
        .filter(invitation::Column::RevokedAt.is_null())
        .filter(invitation::Column::ExpiresAt.gt(now))
        .lock_exclusive()
        .one(db)
        .await?;
    match row {
        Some(row) => Ok(Some(read(db, row).await?)),
        None => Ok(None),
    }
}

/// Notes that an invitation was used.
pub async fn used(
    db: &impl ConnectionTrait,
    invitation: &Invitation,
    by: AccountId,
    now: DateTime<Utc>,
) -> Result<(), StoreError> {
    let change = invitation::ActiveModel {
        program_id: Set(invitation.program.uuid()),
        invitation_id: Set(invitation.id),
        used_at: Set(Some(now)),
        used_by: Set(Some(by.uuid())),
        ..Default::default()
    };
    invitation::Entity::update(change).exec(db).await?;
    Ok(())
}

/// Takes an invitation back; answers whether it was there to be used.
pub async fn revoke(
    db: &impl ConnectionTrait,
    program: ProgramId,
    id: Uuid,
    now: DateTime<Utc>,
) -> Result<bool, StoreError> {
    let done = invitation::Entity::update_many()
        .set(invitation::ActiveModel { revoked_at: Set(Some(now)), ..Default::default() })
        .filter(invitation::Column::ProgramId.eq(program.uuid()))
        .filter(invitation::Column::InvitationId.eq(id))
        .filter(invitation::Column::UsedAt.is_null())
        .filter(invitation::Column::RevokedAt.is_null())
        .exec(db)
        .await?;
    Ok(done.rows_affected > 0)
}

/// Keeps a link to a new password instead of those made before.
pub async fn add_password_link(
    db: &impl ConnectionTrait,
    account: AccountId,
    secret_hash: &[u8],
    made_by: Option<AccountId>,
    expires_at: DateTime<Utc>,
) -> Result<(), StoreError> {
    forget_password_links(db, account).await?;
    let row = password_link::ActiveModel {
        secret_hash: Set(secret_hash.to_vec()),
        account_id: Set(account.uuid()),
        made_by: Set(made_by.map(AccountId::uuid)),
        expires_at: Set(expires_at),
    };
    password_link::Entity::insert(row).exec_without_returning(db).await?;
    Ok(())
}

/// Whose new password a link is for, held until the transaction ends.
pub async fn account_of_link(
    db: &impl ConnectionTrait,
    secret_hash: &[u8],
    now: DateTime<Utc>,
) -> Result<Option<AccountId>, StoreError> {
    let row = password_link::Entity::find_by_id(secret_hash.to_vec())
        .filter(password_link::Column::ExpiresAt.gt(now))
        .lock_exclusive()
        .one(db)
        .await?;
    Ok(row.map(|row| row.account_id.into()))
}

/// No link to a new password of this account is good any more.
pub async fn forget_password_links(db: &impl ConnectionTrait, account: AccountId) -> Result<(), StoreError> {
    password_link::Entity::delete_many().filter(password_link::Column::AccountId.eq(account.uuid())).exec(db).await?;
    Ok(())
}

/// Clears links to passwords whose time is over.
pub async fn clear_expired_links(db: &impl ConnectionTrait, now: DateTime<Utc>) -> Result<(), StoreError> {
    password_link::Entity::delete_many().filter(password_link::Column::ExpiresAt.lte(now)).exec(db).await?;
    Ok(())
}
