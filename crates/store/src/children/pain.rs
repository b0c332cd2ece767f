//! When a child said that it hurts, and what was done about it.

use crate::accounts::Made;
use bright_row_core::craft::id::Target;
use bright_row_core::{ChildId, ObservationId};
use chrono::{DateTime, Utc};
use sea_orm::ActiveValue::Set;
use sea_orm::sea_query::OnConflict;
use sea_orm::{ColumnTrait, ConnectionTrait, EntityTrait, FromQueryResult, QueryFilter, QuerySelect, Statement};
use uuid::Uuid;

use crate::classes::ClassKey;
use crate::entity::{family_answer, observation, pain_answer};
use crate::error::StoreError;

/// That a child said that it hurts, in class or at home.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct PainNote {
    /// The observation, or the family's answer, with which it was said.
    pub observation: ObservationId,
    /// Where it was seen.
    pub target: Target,
    /// Whether the family said so.
    pub at_home: bool,
    /// What was written then.
    pub note: Option<String>,
    /// Who saw it, and when.
    pub seen: Made,
    /// What was done, once somebody says so.
    pub done: Option<(String, Made)>,
}

#[derive(FromQueryResult)]
struct Pain {
    id: Uuid,
    target: String,
    note: Option<String>,
    said_at: DateTime<Utc>,
    noted_by: Uuid,
    at_home: bool,
    done: Option<String>,
    answered_at: Option<DateTime<Utc>>,
    answered_by: Option<Uuid>,
}

/// When a child said that it hurts, the latest first; what was taken back is left out.
pub async fn pain_notes(
    db: &impl ConnectionTrait,
    class: ClassKey,
    child: ChildId,
    most: u64,
) -> Result<Vec<PainNote>, StoreError> {
    const SQL: &str = "
        select m.observation_id as id, m.target, m.note, m.observed_at as said_at, m.observer as noted_by, false as at_home,
               a.done, a.answered_at, a.answered_by
        from observation m
        left join pain_open o on o.program_id = m.program_id and o.observation_id = m.observation_id
        left join pain_answer a on a.program_id = m.program_id and a.observation_id = m.observation_id
        where m.program_id = $1 and m.child_id = $2 and m.says = 'hurts'
          and (o.observation_id is not null or a.observation_id is not null)
        union all
        select f.answer_id, f.target, null, f.answered_at, f.noted_by, true, f.done, f.done_at, f.done_by
        from family_answer f
        left join pain_open o on o.program_id = f.program_id and o.observation_id = f.answer_id
        where f.program_id = $1 and f.child_id = $2 and f.says = 'hurts'
          and (o.observation_id is not null or f.done is not null)
        order by said_at desc, id desc limit $3";
    let values = [class.program.uuid().into(), child.uuid().into(), most.into()];
    let rows = Pain::find_by_statement(Statement::from_sql_and_values(db.get_database_backend(), SQL, values));
    let read = |row: Pain| PainNote {
        observation: row.id.into(),
        target: Target::from_id(&row.target),
        at_home: row.at_home,
        note: row.note,
        seen: Made { by: row.noted_by.into(), at: row.said_at },
        done: row
            .done
            .zip(row.answered_at)
            .zip(row.answered_by)
            .map(|((done, at), by)| (done, Made { by: by.into(), at })),
    };
    Ok(rows.all(db).await?.into_iter().map(read).collect())
}

/// Writes what was done about a pain, said with an observation or a family's answer. `false`: the child has neither. Two
/// answers: the first stays.
pub async fn answer_pain(
    db: &impl ConnectionTrait,
    class: ClassKey,
    child: ChildId,
    observation: ObservationId,
    done: &str,
    made: Made,
) -> Result<bool, StoreError> {
    let there = observation::Entity::find_by_id((class.program.uuid(), observation.uuid()))
        .filter(observation::Column::ChildId.eq(child.uuid()))
        .filter(observation::Column::Says.eq("hurts"))
        .select_only()
        .column(observation::Column::ObservationId)
        .into_tuple::<Uuid>()
        .one(db)
        .await?;
    if there.is_none() {
        return answer_at_home(db, class, child, observation.uuid(), (done, made)).await;
    }
    let row = pain_answer::ActiveModel {
        program_id: Set(class.program.uuid()),
        observation_id: Set(observation.uuid()),
        child_id: Set(child.uuid()),
        done: Set(done.to_owned()),
        answered_at: Set(made.at),
        answered_by: Set(made.by.uuid()),
    };
    let once = OnConflict::columns([pain_answer::Column::ProgramId, pain_answer::Column::ObservationId])
        .do_nothing()
        .to_owned();
    pain_answer::Entity::insert(row).on_conflict(once).exec_without_returning(db).await?;
    Ok(true)
}

async fn answer_at_home(
    db: &impl ConnectionTrait,
    class: ClassKey,
    child: ChildId,
    answer: Uuid,
    (done, made): (&str, Made),
) -> Result<bool, StoreError> {
    let there = family_answer::Entity::find_by_id((class.program.uuid(), answer))
        .filter(family_answer::Column::ChildId.eq(child.uuid()))
        .filter(family_answer::Column::Says.eq("hurts"))
        .one(db)
        .await?;
    if there.is_none() {
        return Ok(false);
    }
    let answered = family_answer::ActiveModel {
        done: Set(Some(done.to_owned())),
        done_at: Set(Some(made.at)),
        done_by: Set(Some(made.by.uuid())),
        ..Default::default()
    };
    family_answer::Entity::update_many()
        .set(answered)
        .filter(family_answer::Column::ProgramId.eq(class.program.uuid()))
        .filter(family_answer::Column::AnswerId.eq(answer))
        .filter(family_answer::Column::Done.is_null())
        .exec(db)
        .await?;
    Ok(true)
}
