//! Keeping: what ends by itself and when, done by the server once a day and noted; classes and programs that end by hand.

use bright_row_core::deed::Deed;
use bright_row_core::retention::Retention;
use bright_row_core::{ClassId, ProgramId};
use bright_row_store::children::removal;
use bright_row_store::classes::{self, ClassKey, keeping};
use bright_row_store::observations::attribution::holders_after;
use bright_row_store::{DatabaseTransaction, audit, retention};
use chrono::{DateTime, Days, NaiveDate, NaiveTime, Utc};

use super::{begin_alone, commit, renew};
use crate::auth::deeds::note;
use crate::error::ApiError;
use crate::state::App;

/// So many days ahead are shown.
const DAYS_AHEAD: u64 = 365;
/// Nothing is removed by itself before an owner could see for so many days that it will be.
const SHOWN_BEFORE_DAYS: u64 = 30;

/// Something that ends by itself.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Ahead {
    /// On which day, or today where it is due already.
    pub on: NaiveDate,
    /// What.
    pub what: What,
}

/// What ends by itself.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum What {
    /// This class is archived.
    Archive(ClassId, String),
    /// This archived class is deleted.
    Delete(ClassId, String),
    /// So many notes and answers to pain are cleared.
    Notes(u64),
    /// So many children who left are removed.
    Left(u64),
}

fn midnight(day: NaiveDate) -> DateTime<Utc> {
    day.and_time(NaiveTime::MIN).and_utc()
}

/// The first day on which something may be removed by itself.
async fn acts_on(app: &App) -> Result<NaiveDate, ApiError> {
    Ok(retention::known_since(&app.db).await?.date_naive() + Days::new(SHOWN_BEFORE_DAYS))
}

/// What ends by itself in the next year, the next first.
///
/// # Errors
/// [`ApiError::Store`].
pub async fn ahead(app: &App, program: ProgramId, set: &Retention) -> Result<Vec<Ahead>, ApiError> {
    let today = app.now().date_naive();
    let acts_on = acts_on(app).await?;
    let mut ahead = Vec::new();
    for class in retention::classes(&app.db, program).await? {
        let archives = class.archived_at.map_or_else(|| set.archives_on(class.last_day), |at| at.date_naive());
        if class.archived_at.is_none() {
            ahead.push((archives, What::Archive(class.class, class.name.clone())));
        }
        ahead.push((set.deletes_on(archives).max(acts_on), What::Delete(class.class, class.name)));
    }
    // With tomorrow's clearing go those that are older then.
    let tomorrow = today + Days::new(1);
    let notes = retention::notes_before(&app.db, program, midnight(set.notes_since(tomorrow))).await?;
    let left = retention::left_before(&app.db, program, set.left_since(tomorrow)).await?.len();
    if notes > 0 {
        ahead.push((tomorrow.max(acts_on), What::Notes(notes)));
    }
    if left > 0 {
        ahead.push((tomorrow.max(acts_on), What::Left(u64::try_from(left).unwrap_or(u64::MAX))));
    }
    let mut ahead: Vec<Ahead> = ahead.into_iter().map(|(on, what)| Ahead { on: on.max(today), what }).collect();
    ahead.retain(|one| one.on <= today + Days::new(DAYS_AHEAD));
    ahead.sort_by_key(|one| one.on);
    Ok(ahead)
}

/// Sets how long a program keeps things, if `allow` lets what is there be changed.
///
/// # Errors
/// What `allow` says; [`ApiError::Store`].
pub async fn set(
    app: &App,
    program: ProgramId,
    wanted: &Retention,
    allow: impl FnOnce(&Retention) -> Result<(), ApiError>,
) -> Result<(), ApiError> {
    let tx = begin_alone(app, program).await?;
    allow(&retention::of_program(&tx, program).await?)?;
    retention::set(&tx, program, wanted).await?;
    commit(app, tx, []).await
}

/// Does for every program what is due by its retention; answers how much was done. Once a day is enough; more often does no harm.
/// One program that fails does not hold up the others.
pub async fn run_all(app: &App) -> usize {
    let programs = match retention::programs(&app.db).await {
        Ok(programs) => programs,
        Err(error) => {
            tracing::warn!(?error, "what is due by retention waits for the next hour");
            return 0;
        }
    };
    let mut done = 0;
    for program in programs {
        match run(app, program).await {
            Ok(count) => done += count,
            Err(error) => tracing::warn!(?error, %program, "what is due by retention waits for the next hour"),
        }
    }
    done
}

/// Does for a program what is due by its retention, and notes it.
///
/// # Errors
/// [`ApiError::Store`]; what was done until then is done.
pub async fn run(app: &App, program: ProgramId) -> Result<usize, ApiError> {
    let today = app.now().date_naive();
    let set = retention::of_program(&app.db, program).await?;
    let removes = today >= acts_on(app).await?;
    let mut done = 0;
    for class in retention::classes(&app.db, program).await? {
        let key = ClassKey { program, class: class.class };
        let over = class.archived_at.is_none() && set.archives_on(class.last_day) <= today;
        let old = removes && class.archived_at.is_some_and(|at| set.deletes_on(at.date_naive()) <= today);
        if !over && !old {
            continue;
        }
        let tx = begin_alone(app, program).await?;
        let deed = if over { Deed::ClassArchived } else { Deed::ClassDeleted };
        if over {
            keeping::archive(&tx, key, Some(app.now())).await?;
        } else {
            keeping::delete(&tx, key).await?;
        }
        note(&tx, program, app.now(), None, (deed, "class", Some(class.class.uuid())), None).await?;
        commit(app, tx, [class.class]).await?;
        done += 1;
    }
    if !removes {
        return Ok(done);
    }
    for (class, child) in retention::left_before(&app.db, program, set.left_since(today)).await? {
        let tx = begin_alone(app, program).await?;
        let removed = (Deed::ChildRemoved, "child", Some(child.uuid()));
        note(&tx, program, app.now(), None, removed, None).await?;
        remove_child_in(app, tx, ClassKey { program, class }, child).await?;
        done += 1;
    }
    let tx = begin_alone(app, program).await?;
    let notes = retention::clear_notes_before(&tx, program, midnight(set.notes_since(today))).await?;
    let entries = audit::clear_before(&tx, program, midnight(set.audit_since(today))).await?;
    for (count, deed) in [(notes, Deed::NotesCleared), (entries, Deed::AuditCleared)] {
        if count > 0 {
            note(&tx, program, app.now(), None, (deed, "program", Some(program.uuid())), None).await?;
            done += 1;
        }
    }
    commit(app, tx, []).await?;
    Ok(done)
}

/// Removes a child in a transaction that has the program alone, and commits it.
///
/// # Errors
/// [`ApiError::Store`].
pub async fn remove_child_in(
    app: &App,
    tx: DatabaseTransaction,
    key: ClassKey,
    child: bright_row_core::ChildId,
) -> Result<(), ApiError> {
    // Looks at the tapes of an instrument count for whoever has it now, also those that were made while this child had it.
    let mut holders = holders_after(&tx, key.program, &[child].into()).await?;
    holders.remove(&child);
    removal::remove(&tx, key, child).await?;
    let changed = renew(app, &tx, key.program, &holders).await?;
    commit(app, tx, changed.into_iter().chain([key.class])).await
}

/// Gives a class another name.
///
/// # Errors
/// [`ApiError::Store`].
pub async fn rename_class(app: &App, key: ClassKey, name: &str) -> Result<(), ApiError> {
    let tx = begin_alone(app, key.program).await?;
    keeping::rename(&tx, key, name).await?;
    commit(app, tx, [key.class]).await
}

/// Archives a class, or opens it again.
///
/// # Errors
/// [`ApiError::Store`].
pub async fn archive_class(app: &App, key: ClassKey, archived: bool) -> Result<(), ApiError> {
    let tx = begin_alone(app, key.program).await?;
    let present = classes::one(&tx, key).await?.archived_at;
    let at = archived.then(|| present.unwrap_or_else(|| app.now()));
    keeping::archive(&tx, key, at).await?;
    commit(app, tx, [key.class]).await
}

/// Deletes a class with its children, for good. Who holds an instrument of the store room that one of them had is computed anew.
///
/// # Errors
/// [`ApiError::Store`].
pub async fn delete_class(app: &App, key: ClassKey) -> Result<(), ApiError> {
    let tx = begin_alone(app, key.program).await?;
    let children = bright_row_store::children::ids_of_class(&tx, key).await?;
    let holders = holders_after(&tx, key.program, &children).await?;
    keeping::delete(&tx, key).await?;
    let others = holders.into_iter().filter(|child| !children.contains(child)).collect();
    let changed = renew(app, &tx, key.program, &others).await?;
    commit(app, tx, changed.into_iter().chain([key.class])).await
}

/// Deletes a program with everything of it, for good.
///
/// # Errors
/// [`ApiError::Store`].
pub async fn end_program(app: &App, program: ProgramId) -> Result<(), ApiError> {
    let tx = begin_alone(app, program).await?;
    keeping::delete_program(&tx, program).await?;
    commit(app, tx, []).await
}
