//! Settings of a class, changed together with everything that follows from them.

use std::collections::BTreeSet;

use bright_row_core::ChildId;
use bright_row_core::craft::approach::Choices;
use bright_row_core::craft::edits::{EditFault, Edits};
use bright_row_core::craft::loader::class_file::ClassChecklist;
use bright_row_core::progress::calendar::MeetingCalendar;
use bright_row_core::progress::rhythm::Rhythm;
use bright_row_core::tapes::settings::MarkerSettings;
use bright_row_store::classes::calendar::{self, CalendarSettings};
use bright_row_store::classes::{Class, RoundSettings, settings};
use bright_row_store::{DatabaseTransaction, children, observations};

use super::{begin, commit};
use crate::auth::guard::Member;
use crate::error::{ApiError, FieldError};
use crate::failure::sentence;
use crate::state::App;

/// Takes options of an approach. What is not named stays as it is.
///
/// # Errors
/// [`ApiError::Store`].
pub async fn choose(app: &App, member: &Member, choices: &Choices) -> Result<(), ApiError> {
    let key = member.class.key;
    let tx = begin(app).await?;
    settings::choose(&tx, key, choices).await?;
    commit(app, tx, [key.class]).await
}

/// Sets how markers are laid from now on.
///
/// # Errors
/// [`ApiError::Store`].
pub async fn set_marker_settings(app: &App, member: &Member, markers: &MarkerSettings) -> Result<(), ApiError> {
    let key = member.class.key;
    let tx = begin(app).await?;
    settings::set_marker_settings(&tx, key, markers).await?;
    commit(app, tx, [key.class]).await
}

/// Sets how soon a class looks at things again; everybody's standings follow anew.
///
/// # Errors
/// [`ApiError::Store`].
pub async fn set_rhythm(app: &App, member: Member, rhythm: Rhythm, round: RoundSettings) -> Result<(), ApiError> {
    let tx = begin(app).await?;
    settings::set_rhythm(&tx, member.class.key, &rhythm, &round).await?;
    renew_everybody(app, tx, Class { rhythm, round, ..member.class }).await
}

/// Sets when a class meets, once `check` made a calendar of it, given the one before; everybody's standings follow anew.
///
/// # Errors
/// What `check` says; [`ApiError::Store`].
pub async fn set_calendar(
    app: &App,
    member: Member,
    check: impl FnOnce(&CalendarSettings) -> Result<(CalendarSettings, MeetingCalendar), ApiError>,
) -> Result<(), ApiError> {
    let key = member.class.key;
    let tx = begin(app).await?;
    let (settings, calendar) = check(&calendar::of_class(&tx, key).await?)?;
    calendar::set(&tx, key, &settings).await?;
    renew_everybody(app, tx, Class { calendar, ..member.class }).await
}

async fn renew_everybody(app: &App, tx: DatabaseTransaction, class: Class) -> Result<(), ApiError> {
    let everybody: BTreeSet<ChildId> =
        children::of_class(&tx, class.key).await?.into_iter().map(|child| child.id).collect();
    // On the heap: everything that a class is computed from is large.
    Box::pin(observations::renew(&tx, &class, &app.checklist(&class), &everybody)).await?;
    commit(app, tx, [class.key.class]).await
}

/// Changes what a class edits of the checklist. `change` is shown the edits as they are.
///
/// # Errors
/// What `change` fails with; [`ApiError::Invalid`] for edits that cannot be.
pub async fn change_edits<T>(
    app: &App,
    member: &Member,
    change: impl FnOnce(&mut Edits) -> Result<T, ApiError>,
) -> Result<T, ApiError> {
    let key = member.class.key;
    let tx = begin(app).await?;
    let mut edits = settings::edits_to_change(&tx, key).await?;
    let answer = change(&mut edits)?;
    let mut faults: Vec<FieldError> = Vec::new();
    for EditFault { field, message, .. } in edits.faults(app.content.template.shared()) {
        let fault = FieldError::new(field, sentence(&message));
        // The same words on several instruments are said once.
        if !faults.contains(&fault) {
            faults.push(fault);
        }
    }
    if !faults.is_empty() {
        return Err(ApiError::Invalid(faults));
    }
    settings::write_edits(&tx, key, &edits).await?;
    commit(app, tx, [key.class]).await?;
    Ok(answer)
}

/// Takes the choices and edits of a file in the place of the class's own, once `agree` says so of what it would be; `agree`
/// is shown the edits as they are. Own checkpoints of the class stay known, switched off, so that their observations keep
/// their name.
///
/// # Errors
/// What `agree` fails with; [`ApiError::Store`].
pub async fn take_class_file<T>(
    app: &App,
    member: &Member,
    mut file: ClassChecklist,
    agree: impl FnOnce(&Edits, &ClassChecklist) -> Result<(T, bool), ApiError>,
) -> Result<T, ApiError> {
    let key = member.class.key;
    let tx = begin(app).await?;
    let edits = settings::edits_to_change(&tx, key).await?;
    for (id, own) in &edits.own {
        if !file.edits.own.contains_key(id) {
            file.edits.own.insert(id.clone(), own.clone());
            file.edits.off.insert(id.clone());
        }
    }
    let (answer, agreed) = agree(&edits, &file)?;
    if !agreed {
        return Ok(answer);
    }
    settings::choose_nothing(&tx, key).await?;
    settings::choose(&tx, key, &file.choices).await?;
    settings::write_edits(&tx, key, &file.edits).await?;
    commit(app, tx, [key.class]).await?;
    Ok(answer)
}
