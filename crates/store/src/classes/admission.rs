//! Who may open which class: a class is seen through somebody's membership.

use bright_row_core::role::Role;
use bright_row_core::{AccountId, ClassId};
use chrono::{DateTime, Utc};
use sea_orm::{ConnectionTrait, FromQueryResult, Statement};
use uuid::Uuid;

use crate::accounts::{WANTS_SECOND_FACTOR, read_role};
use crate::classes::{COLUMNS, Class, Row, readable};
use crate::error::StoreError;

/// A class that somebody may open.
#[derive(Clone, Debug)]
pub struct Opened {
    /// The class.
    pub class: Class,
    /// One's role in it.
    pub role: Role,
    /// Until when a substitute is let in.
    pub until: Option<DateTime<Utc>>,
    /// The program demands a second factor and this account has none yet.
    pub wants_second_factor: bool,
}

/// The class as it was read before with one's role in it, if this account may open it at this moment and nothing has been set since in
/// its program. Asks much less than [`for_account`].
pub async fn for_account_as_before(
    db: &impl ConnectionTrait,
    account: AccountId,
    class: Class,
    now: DateTime<Utc>,
) -> Result<Option<Opened>, StoreError> {
    #[derive(FromQueryResult)]
    struct Admission {
        role: String,
        until: Option<DateTime<Utc>>,
        wants_second_factor: bool,
        touched: Uuid,
    }
    let sql = format!(
        "select m.role, m.until, {WANTS_SECOND_FACTOR} as wants_second_factor, c.touched
         from program p join class c on c.program_id = p.program_id and c.class_id = $5 join membership m on m.program_id = p.program_id join account a on a.account_id = m.account_id
         where p.program_id = $1 and m.account_id = $2 and p.settled = $4 and {}",
        let_in("$5")
    );
    let key = class.key;
    let (program, account) = (key.program.uuid(), account.uuid());
    let values = [program.into(), account.into(), now.into(), class.settled.into(), key.class.uuid().into()];
    let found = Admission::find_by_statement(Statement::from_sql_and_values(db.get_database_backend(), sql, values));
    let Some(Admission { role, until, wants_second_factor, touched }) = found.one(db).await? else { return Ok(None) };
    let class = Class { touched, ..class };
    Ok(Some(Opened { class, role: read_role(&role)?, until, wants_second_factor }))
}

/// Whether a membership `m` lets its account into a class at the moment `$3`.
fn let_in(class: &str) -> String {
    format!(
        "(m.until is null or m.until > $3)
         and (m.role = 'owner' or exists (select from class_member g where g.program_id = m.program_id
                                          and g.class_id = {class} and g.account_id = m.account_id))"
    )
}

/// The class with one's role in it, if this account may open it at this moment.
pub async fn for_account(
    db: &impl ConnectionTrait,
    account: AccountId,
    class: ClassId,
    now: DateTime<Utc>,
) -> Result<Option<Opened>, StoreError> {
    of_account(db, account, Some(class), now).await?.into_iter().next().transpose()
}

/// Every class this account may open at this moment, by name, with one's role in it. One that cannot be read is left out and
/// does not hide the others.
pub async fn all_for_account(
    db: &impl ConnectionTrait,
    account: AccountId,
    now: DateTime<Utc>,
) -> Result<Vec<Opened>, StoreError> {
    Ok(readable(of_account(db, account, None, now).await?))
}

async fn of_account(
    db: &impl ConnectionTrait,
    account: AccountId,
    class: Option<ClassId>,
    now: DateTime<Utc>,
) -> Result<Vec<Result<Opened, StoreError>>, StoreError> {
    #[derive(FromQueryResult)]
    struct OfAccount {
        role: String,
        until: Option<DateTime<Utc>>,
        wants_second_factor: bool,
        #[sea_orm(nested)]
        class: Row,
    }
    let sql = format!(
        "select m.role, m.until, {WANTS_SECOND_FACTOR} as wants_second_factor, {COLUMNS}
         join membership m on m.program_id = c.program_id join account a on a.account_id = m.account_id
         where m.account_id = $1 and ($2::uuid is null or c.class_id = $2) and {}
         order by c.archived_at is not null, c.name, c.class_id",
        let_in("c.class_id")
    );
    let values = [account.uuid().into(), class.map(ClassId::uuid).into(), now.into()];
    let found = OfAccount::find_by_statement(Statement::from_sql_and_values(db.get_database_backend(), sql, values));
    let opened = |row: OfAccount| {
        let (class, role) = (row.class.read()?, read_role(&row.role)?);
        Ok(Opened { class, role, until: row.until, wants_second_factor: row.wants_second_factor })
    };
    Ok(found.all(db).await?.into_iter().map(opened).collect())
}
