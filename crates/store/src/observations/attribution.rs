//! Which observations stand for whom: a child's own, but of the tapes those of the instrument it has now.

use std::collections::{BTreeMap, BTreeSet, HashMap};
use std::pin::pin;

use bright_row_core::progress::observation::Observation;
use bright_row_core::{ChildId, ProgramId};
use chrono::{DateTime, Utc};
use futures::TryStreamExt;
use sea_orm::{ConnectionTrait, FromQueryResult, QueryResult, Statement, StreamTrait};
use uuid::Uuid;

use crate::classes::ClassKey;
use crate::entity::observation;
use crate::error::StoreError;
use crate::observations::rows::read;

/// The observations that stand for each of these children: its own, but of the tapes those of the instrument it has now,
/// whoever had it when it was looked at. `targets` limits them.
pub async fn attributed(
    db: &impl ConnectionTrait,
    program: ProgramId,
    children: &BTreeSet<ChildId>,
    targets: Option<Vec<String>>,
) -> Result<BTreeMap<ChildId, Vec<Observation>>, StoreError> {
    const OWN: &str = "
        select m.child_id as attributed_to, m.* from observation m
        where m.program_id = $1 and m.child_id = any($2) and m.target not like 'tape.%'";
    const TAPES: &str = "
        select h.child_id as attributed_to, m.*
        from loan h
        join tape_observation t on t.program_id = h.program_id and t.asset_id = h.asset_id
        join observation m on m.program_id = t.program_id and m.observation_id = t.observation_id
        where h.program_id = $1 and h.child_id = any($2) and h.until is null
        union all
        select m.child_id as attributed_to, m.*
        from tape_observation t
        join observation m on m.program_id = t.program_id and m.observation_id = t.observation_id
        where t.program_id = $1 and t.child_id = any($2) and t.asset_id is null
          and not exists (select from loan h
                          where h.program_id = $1 and h.child_id = t.child_id and h.until is null)";
    let ids: Vec<Uuid> = children.iter().map(|child| child.uuid()).collect();
    let tapes = targets.as_ref().is_none_or(|targets| targets.iter().any(|target| target.starts_with(TAPE)));
    let others = targets.as_ref().is_none_or(|targets| targets.iter().any(|target| !target.starts_with(TAPE)));
    let mut found: BTreeMap<ChildId, Vec<Observation>> = BTreeMap::new();
    for sql in others.then_some(OWN).into_iter().chain(tapes.then_some(TAPES)) {
        let mut values = vec![program.uuid().into(), ids.clone().into()];
        let only = if targets.is_some() { "where target = any($3)" } else { "" };
        values.extend(targets.clone().map(Into::into));
        let sql = format!("select {READ_BY_PLACE} from ({sql}) as observations {only}");
        let statement = Statement::from_sql_and_values(db.get_database_backend(), sql, values);
        for row in db.query_all_raw(statement).await? {
            let (child, observation) = read_by_place(&row)?;
            found.entry(child).or_default().push(observation);
        }
    }
    Ok(found)
}

/// The statement of [`own`]. One child after the other, each by its index: what children of other classes add over the years
/// costs nothing. Narrow: what few observations have is asked for by [`OWN_MORE`].
pub const OWN: &str = "
    select these.place::int4, m.observation_id, m.target, m.level, m.via, m.observed_at, m.observer
    from unnest($2::uuid[]) with ordinality as these(child_id, place)
    cross join lateral (select * from observation o
                        where o.program_id = $1 and o.child_id = these.child_id offset 0) m";

/// What few of these have: an undo, slips, checkpoints that a stage look does not vouch for, the child's word.
pub const OWN_MORE: &str = "
    select m.observation_id, m.retracts, m.slips, m.except_checkpoints, m.says
    from unnest($2::uuid[]) as these(child_id)
    cross join lateral (select * from observation o
                        where o.program_id = $1 and o.child_id = these.child_id
                          and (o.retracts is not null or o.slips <> '{}' or o.except_checkpoints <> '{}'
                               or o.says is not null) offset 0) m";

/// What few observations have.
type More = (Option<Uuid>, Vec<String>, Vec<String>, Option<String>);

/// Everything that was ever seen of these children themselves, whatever instrument they had then, in no order, without what no
/// standing follows from: notes, rounds, and when it was taken in.
///
/// # Errors
/// [`StoreError`].
pub async fn own(
    db: &(impl ConnectionTrait + StreamTrait),
    program: ProgramId,
    children: &BTreeSet<ChildId>,
) -> Result<BTreeMap<ChildId, Vec<Observation>>, StoreError> {
    let children: Vec<ChildId> = children.iter().copied().collect();
    let ids: Vec<Uuid> = children.iter().map(|child| child.uuid()).collect();
    let values = || [program.uuid().into(), ids.clone().into()];
    let backend = ConnectionTrait::get_database_backend(db);
    let asked = |sql| Statement::from_sql_and_values(backend, sql, values());
    let mut more: HashMap<Uuid, More> = HashMap::new();
    for row in db.query_all_raw(asked(OWN_MORE)).await? {
        let by_place =
            (row.try_get_by_index(1)?, row.try_get_by_index(2)?, row.try_get_by_index(3)?, row.try_get_by_index(4)?);
        more.insert(row.try_get_by_index(0)?, by_place);
    }
    let mut found: Vec<Vec<Observation>> = vec![Vec::new(); children.len()];
    // One row after the other: together they would take more memory than what is read of them.
    let mut rows = pin!(db.stream_raw(asked(OWN)).await?);
    while let Some(row) = rows.try_next().await? {
        let place: i32 = row.try_get_by_index(0)?;
        // Counted from 1.
        let Some(place) = usize::try_from(place).ok().and_then(|place| place.checked_sub(1)) else { continue };
        let (Some(child), Some(of_child)) = (children.get(place), found.get_mut(place)) else { continue };
        let observation_id: Uuid = row.try_get_by_index(1)?;
        let (retracts, slips, except_checkpoints, says) = more.remove(&observation_id).unwrap_or_default();
        let observed_at = row.try_get_by_index(5)?;
        of_child.push(read(observation::Model {
            program_id: Uuid::nil(),
            class_id: Uuid::nil(),
            observation_id,
            child_id: child.uuid(),
            target: row.try_get_by_index(2)?,
            level: row.try_get_by_index(3)?,
            retracts,
            slips,
            except_checkpoints,
            says,
            note: None,
            via: row.try_get_by_index(4)?,
            observed_at,
            recorded_at: observed_at,
            observer: row.try_get_by_index(6)?,
            round_id: None,
        })?);
    }
    Ok(children.into_iter().zip(found).collect())
}

/// The columns from which standings follow, in the order in which [`read_by_place`] takes them: every observation on a stage is
/// read with each observation that is added, and looking columns up by name would cost more than reading them.
const READ_BY_PLACE: &str = "attributed_to, observation_id, child_id, target, level, retracts, slips, except_checkpoints, says, \
                             via, observed_at, recorded_at, observer";

/// An observation without what no standing follows from: its note and its round.
fn read_by_place(row: &QueryResult) -> Result<(ChildId, Observation), StoreError> {
    let model = observation::Model {
        program_id: Uuid::nil(),
        class_id: Uuid::nil(),
        observation_id: row.try_get_by_index(1)?,
        child_id: row.try_get_by_index(2)?,
        target: row.try_get_by_index(3)?,
        level: row.try_get_by_index(4)?,
        retracts: row.try_get_by_index(5)?,
        slips: row.try_get_by_index(6)?,
        except_checkpoints: row.try_get_by_index(7)?,
        says: row.try_get_by_index(8)?,
        note: None,
        via: row.try_get_by_index(9)?,
        observed_at: row.try_get_by_index(10)?,
        recorded_at: row.try_get_by_index(11)?,
        observer: row.try_get_by_index(12)?,
        round_id: None,
    };
    let child: Uuid = row.try_get_by_index(0)?;
    Ok((child.into(), read(model)?))
}

/// What the ids of tape checkpoints and stages begin with.
pub(crate) const TAPE: &str = "tape.";

/// The children of a class for whom observations that were taken in since a moment stand: whoever was looked at, and who has
/// the instruments now at whose tapes somebody looked.
pub async fn changed_since(
    db: &impl ConnectionTrait,
    class: ClassKey,
    since: DateTime<Utc>,
) -> Result<BTreeSet<ChildId>, StoreError> {
    const SQL: &str = "
        with fresh as (select program_id, observation_id, child_id, target from observation
                       where program_id = $1 and recorded_at >= $2)
        select child_id from fresh
        union
        select l.child_id from fresh f
        join tape_observation t on t.program_id = f.program_id and t.observation_id = f.observation_id
        join loan l on l.program_id = t.program_id and l.asset_id = t.asset_id and l.until is null
        where f.target like 'tape.%'";
    let values = [class.program.uuid().into(), since.into()];
    let found =
        CurrentHolder::find_by_statement(Statement::from_sql_and_values(db.get_database_backend(), SQL, values));
    Ok(found.all(db).await?.into_iter().map(|row| row.child_id.into()).collect())
}

#[derive(FromQueryResult)]
struct CurrentHolder {
    child_id: Uuid,
}

/// Who has the instruments now whose tapes these observations speak of.
pub(crate) async fn current_holders(
    db: &impl ConnectionTrait,
    program: ProgramId,
    touched: &[&Observation],
) -> Result<BTreeSet<ChildId>, StoreError> {
    const SQL: &str = "
        select h.child_id from tape_observation t
        join loan h on h.program_id = t.program_id and h.asset_id = t.asset_id and h.until is null
        where t.program_id = $1 and t.observation_id = any($2)";
    let ids = touched.iter().map(|observation| observation.id.uuid()).collect();
    holders(db, program, SQL, ids).await
}

/// Who has an instrument now that one of these children has or had.
pub async fn holders_after(
    db: &impl ConnectionTrait,
    program: ProgramId,
    children: &BTreeSet<ChildId>,
) -> Result<BTreeSet<ChildId>, StoreError> {
    const SQL: &str = "
        select h.child_id from loan l
        join loan h on h.program_id = l.program_id and h.asset_id = l.asset_id and h.until is null
        where l.program_id = $1 and l.child_id = any($2)";
    holders(db, program, SQL, children.iter().map(|child| child.uuid()).collect()).await
}

async fn holders(
    db: &impl ConnectionTrait,
    program: ProgramId,
    sql: &str,
    ids: Vec<Uuid>,
) -> Result<BTreeSet<ChildId>, StoreError> {
    let values = [program.uuid().into(), ids.into()];
    let found =
        CurrentHolder::find_by_statement(Statement::from_sql_and_values(db.get_database_backend(), sql, values));
    Ok(found.all(db).await?.into_iter().map(|row| row.child_id.into()).collect())
}
