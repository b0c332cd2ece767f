//! Who may open which class: a class is seen through somebody's membership.

use std::collections::BTreeMap;
use std::sync::Arc;

use bright_row_core::role::Role;
use bright_row_core::{AccountId, ChildId, ClassId, ProgramId};
use chrono::{DateTime, Utc};
use sea_orm::{ConnectionTrait, FromQueryResult, Statement, Value};
use uuid::Uuid;

use crate::accounts::{WANTS_SECOND_FACTOR, read_role};
use crate::classes::{COLUMNS, Class, Row, readable};
use crate::error::StoreError;

/// A class that somebody may open.
#[derive(Clone, Debug)]
pub struct Opened {
    /// The class.
    pub class: Arc<Class>,
    /// One's role in it.
    pub role: Role,
    /// Until when a substitute is let in.
    pub until: Option<DateTime<Utc>>,
    /// The program demands a second factor and this account has none yet.
    pub wants_second_factor: bool,
}

/// Somebody who wants to open a class that was read before.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Asks {
    /// Who.
    pub account: AccountId,
    /// Which class.
    pub class: ClassId,
    /// What it said when it was read: see [`Class::settled`].
    pub settled: Uuid,
    /// At which moment.
    pub at: DateTime<Utc>,
}

/// What lets somebody into a class that was read before and is as it was.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Admission {
    role: Role,
    until: Option<DateTime<Utc>>,
    wants_second_factor: bool,
}

impl Admission {
    /// The class, which is as it was.
    #[must_use]
    pub fn opens(self, class: Arc<Class>) -> Opened {
        let Self { role, until, wants_second_factor } = self;
        Opened { class, role, until, wants_second_factor }
    }
}

/// What lets each of these into a class of one program, in order; `None` for those who may not open it, and where something was set in
/// the program since. Asks much less than [`for_account`].
pub async fn admissions(
    db: &impl ConnectionTrait,
    program: ProgramId,
    asking: &[Asks],
) -> Result<Vec<Option<Admission>>, StoreError> {
    #[derive(FromQueryResult)]
    struct Row {
        place: i64,
        role: String,
        until: Option<DateTime<Utc>>,
        wants_second_factor: bool,
    }
    let sql = format!(
        "select asks.place, m.role, m.until, {WANTS_SECOND_FACTOR} as wants_second_factor
         from unnest($2::uuid[], $3::uuid[], $4::uuid[], $5::timestamptz[]) with ordinality
           as asks (account_id, class_id, settled, at, place)
         join program p on p.program_id = $1 and p.settled = asks.settled
         join membership m on m.program_id = $1 and m.account_id = asks.account_id
         join account a on a.account_id = asks.account_id
         where {}",
        let_in("asks.class_id", "asks.at")
    );
    let ids = |id: fn(&Asks) -> Uuid| asking.iter().map(id).collect::<Vec<Uuid>>();
    let moments: Vec<DateTime<Utc>> = asking.iter().map(|asks| asks.at).collect();
    let values = [
        program.uuid().into(),
        ids(|asks| asks.account.uuid()).into(),
        ids(|asks| asks.class.uuid()).into(),
        ids(|asks| asks.settled).into(),
        moments.into(),
    ];
    let found = Row::find_by_statement(Statement::from_sql_and_values(db.get_database_backend(), sql, values));
    let mut admissions = vec![None; asking.len()];
    for Row { place, role, until, wants_second_factor } in found.all(db).await? {
        // Counted from 1.
        let place = usize::try_from(place - 1).ok().and_then(|place| admissions.get_mut(place));
        let place = place.ok_or(StoreError::Unreadable { what: "place", value: "of an admission".to_owned() })?;
        *place = Some(Admission { role: read_role(&role)?, until, wants_second_factor });
    }
    Ok(admissions)
}

/// What lets somebody into a class, as [`admissions`] answers it, and with it what [`crate::classes::touched::by_child`] answers of that class.
pub async fn admission_with_touched(
    db: &impl ConnectionTrait,
    program: ProgramId,
    asks: &Asks,
) -> Result<Option<(Admission, BTreeMap<ChildId, Uuid>)>, StoreError> {
    let sql = format!(
        "select m.role, m.until, {WANTS_SECOND_FACTOR} as wants_second_factor, c.child_id, c.touched
         from program p
         join membership m on m.program_id = p.program_id and m.account_id = $2
         join account a on a.account_id = m.account_id
         left join child c on c.program_id = p.program_id and c.class_id = $3 and c.left_on is null
         where p.program_id = $1 and p.settled = $4 and {}",
        let_in("$3", "$5")
    );
    let values = [
        program.uuid().into(),
        asks.account.uuid().into(),
        asks.class.uuid().into(),
        asks.settled.into(),
        asks.at.into(),
    ];
    let rows = db.query_all_raw(Statement::from_sql_and_values(db.get_database_backend(), sql, values)).await?;
    let Some(first) = rows.first() else { return Ok(None) };
    let role: String = first.try_get_by_index(0)?;
    let admission = Admission {
        role: read_role(&role)?,
        until: first.try_get_by_index(1)?,
        wants_second_factor: first.try_get_by_index(2)?,
    };
    let mut touched = BTreeMap::new();
    for row in &rows {
        if let Some(child) = row.try_get_by_index::<Option<Uuid>>(3)? {
            touched.insert(child.into(), row.try_get_by_index(4)?);
        }
    }
    Ok(Some((admission, touched)))
}

/// Somebody who was let into a class before, by a session, and was not asked again.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct LetIn {
    /// The session, by the hash it is kept by.
    pub session: Vec<u8>,
    /// Whose.
    pub account: AccountId,
    /// Until when a substitute was let in.
    pub until: Option<DateTime<Utc>>,
    /// What the program said: see [`Class::settled`].
    pub settled: Uuid,
    /// At which moment the membership has to hold.
    pub at: DateTime<Utc>,
    /// At which moment the session has to.
    pub now: DateTime<Utc>,
    /// Since when the session has to have been used.
    pub used_since: DateTime<Utc>,
}

/// The statement that says which of those let in before would be let into their classes of the program `$1` now as they were: the session
/// is the same one's, nothing was set in the program, and the membership lets in as before. Answers places, counted from 1. Eight arrays
/// from a parameter on.
pub(crate) fn confirming(first: u8) -> String {
    let given: Vec<String> =
        ["bytea", "uuid", "timestamptz", "uuid", "uuid", "timestamptz", "timestamptz", "timestamptz"]
            .into_iter()
            .zip(first..)
            .map(|(kind, number)| format!("${number}::{kind}[]"))
            .collect();
    format!(
        "select before.place
         from unnest({})
           with ordinality as before (session_hash, account_id, until, class_id, settled, at, now, used_since, place)
         join web_session s on s.session_hash = before.session_hash and s.account_id = before.account_id
           and s.expires_at > before.now and s.last_used_at > before.used_since
         join program p on p.program_id = $1 and p.settled = before.settled
         join membership m on m.program_id = $1 and m.account_id = before.account_id and coalesce(m.until, 'epoch') = before.until
         join account a on a.account_id = before.account_id
         where not {WANTS_SECOND_FACTOR} and {}",
        given.join(", "),
        let_in("before.class_id", "before.at")
    )
}

/// The values of [`confirming`].
pub(crate) fn confirming_values(let_in_before: &[(ClassId, &LetIn)]) -> [Value; 8] {
    let ids = |id: fn(&(ClassId, &LetIn)) -> Uuid| let_in_before.iter().map(id).collect::<Vec<Uuid>>();
    let moments = |at: fn(&LetIn) -> DateTime<Utc>| let_in_before.iter().map(|(_, one)| at(one)).collect::<Vec<_>>();
    let sessions: Vec<Vec<u8>> = let_in_before.iter().map(|(_, one)| one.session.clone()).collect();
    [
        sessions.into(),
        ids(|(_, one)| one.account.uuid()).into(),
        // Nobody was ever let in until the epoch.
        moments(|one| one.until.unwrap_or(DateTime::UNIX_EPOCH)).into(),
        ids(|(class, _)| class.uuid()).into(),
        ids(|(_, one)| one.settled).into(),
        moments(|one| one.at).into(),
        moments(|one| one.now).into(),
        moments(|one| one.used_since).into(),
    ]
}

/// Which of these are confirmed: see [`confirming`].
pub(crate) async fn confirmed(
    db: &impl ConnectionTrait,
    program: ProgramId,
    let_in_before: &[(ClassId, &LetIn)],
) -> Result<Vec<bool>, StoreError> {
    let mut confirmed = vec![false; let_in_before.len()];
    if confirmed.is_empty() {
        return Ok(confirmed);
    }
    let values = [program.uuid().into()].into_iter().chain(confirming_values(let_in_before));
    for row in
        db.query_all_raw(Statement::from_sql_and_values(db.get_database_backend(), confirming(2), values)).await?
    {
        // Counted from 1.
        let place = usize::try_from(row.try_get_by_index::<i64>(0)? - 1).ok().filter(|place| *place < confirmed.len());
        let place = place.ok_or(StoreError::Unreadable { what: "place", value: "of somebody let in".to_owned() })?;
        confirmed[place] = true;
    }
    Ok(confirmed)
}

/// Whether a membership `m` lets its account into a class at a moment.
fn let_in(class: &str, at: &str) -> String {
    format!(
        "(m.until is null or m.until > {at})
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
        let_in("c.class_id", "$3")
    );
    let values = [account.uuid().into(), class.map(ClassId::uuid).into(), now.into()];
    let found = OfAccount::find_by_statement(Statement::from_sql_and_values(db.get_database_backend(), sql, values));
    let opened = |row: OfAccount| {
        let (class, role) = (Arc::new(row.class.read()?), read_role(&row.role)?);
        Ok(Opened { class, role, until: row.until, wants_second_factor: row.wants_second_factor })
    };
    Ok(found.all(db).await?.into_iter().map(opened).collect())
}
