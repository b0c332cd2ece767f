//! Settings of a class, changed together with everything that follows from them.

use std::collections::BTreeMap;

use bright_row_core::ChildId;
use bright_row_core::craft::approach::Choices;
use bright_row_core::craft::drills::{Drill, DrillFault};
use bright_row_core::craft::edits::{EditFault, Edits, OwnCheckpoint};
use bright_row_core::craft::family_wording::{self, WordingFault};
use bright_row_core::craft::id::CheckpointId;
use bright_row_core::craft::loader::class_file::ClassChecklist;
use bright_row_core::lessons::home::{HomeAgreement, HomeSettings};
use bright_row_core::progress::rhythm::Rhythm;
use bright_row_core::tapes::settings::MarkerSettings;
use bright_row_store::DatabaseTransaction;
use bright_row_store::children::{agreements, membership};
use bright_row_store::classes::calendar::{self, CalendarSettings};
use bright_row_store::classes::{self, Class, ClassKey, RoundSettings, settings};
use bright_row_store::observations::history;
use chrono::NaiveDate;
use uuid::Uuid;

use super::{begin_alone, commit, done_before, note_done, renew};
use crate::auth::guard::Member;
use crate::error::{ApiError, FieldError};
use crate::failure::sentence;
use crate::state::App;

/// The days on which the options that a class has chosen turn into others, by choice.
pub type TurningDays = BTreeMap<String, NaiveDate>;

/// Takes options of an approach, with the days that were asked for on which some turn into others; everybody's standings follow
/// anew. What is not named stays as it is.
///
/// # Errors
/// [`ApiError::Store`].
pub async fn choose(app: &App, member: &Member, choices: &Choices, asked: &TurningDays) -> Result<(), ApiError> {
    let key = member.class.key;
    let tx = begin_alone(app, key.program).await?;
    let before = classes::one(&tx, key).await?;
    settings::choose(&tx, key, choices).await?;
    let mut all = before.choices.clone();
    all.extend(choices.clone());
    let turns_on = app.turning_days(&before, (&all, asked));
    if turns_on != before.edits.turns_on {
        settings::write_edits(&tx, key, &Edits { turns_on, ..before.edits.clone() }).await?;
    }
    renew_if_read_otherwise(app, tx, &before).await
}

/// Sets how markers are laid from now on, if `allow` lets the class as it is be changed.
///
/// # Errors
/// What `allow` says; [`ApiError::Store`].
pub async fn set_marker_settings(
    app: &App,
    member: &Member,
    markers: &MarkerSettings,
    allow: impl FnOnce(&Class) -> Result<(), ApiError>,
) -> Result<(), ApiError> {
    let key = member.class.key;
    let tx = begin_alone(app, key.program).await?;
    allow(&classes::one(&tx, key).await?)?;
    settings::set_marker_settings(&tx, key, markers).await?;
    commit(app, tx, [key.class]).await
}

/// Sets how a class practises at home, if `allow` lets the class as it is be changed.
///
/// # Errors
/// What `allow` says; [`ApiError::Store`].
pub async fn set_home(
    app: &App,
    member: &Member,
    home: &HomeSettings,
    allow: impl FnOnce(&Class) -> Result<(), ApiError>,
) -> Result<(), ApiError> {
    let key = member.class.key;
    let tx = begin_alone(app, key.program).await?;
    allow(&classes::one(&tx, key).await?)?;
    settings::set_home_settings(&tx, key, home).await?;
    commit(app, tx, [key.class]).await
}

/// Keeps what is agreed with a child's family, if `allow` lets what is agreed now be changed.
///
/// # Errors
/// [`ApiError::Invalid`] for what cannot be; what `allow` says; [`ApiError::Store`].
pub async fn agree_on_practice(
    app: &App,
    member: &Member,
    child: ChildId,
    agreement: &HomeAgreement,
    allow: impl FnOnce(&HomeAgreement) -> Result<(), ApiError>,
) -> Result<(), ApiError> {
    let key = member.class.key;
    let tx = begin_alone(app, key.program).await?;
    let there = agreements::of_class(&tx, key).await?.remove(&child).unwrap_or_default();
    allow(&there)?;
    let faults = classes::one(&tx, key).await?.home_settings.with(agreement).faults();
    let faults: Vec<FieldError> = faults.into_iter().map(|(field, words)| FieldError::new(field, words)).collect();
    if !faults.is_empty() {
        return Err(ApiError::Invalid(faults));
    }
    agreements::set(&tx, key, child, agreement).await?;
    commit(app, tx, [key.class]).await
}

/// Sets how soon a class looks at things again, if `allow` lets the class as it is be changed; everybody's standings follow anew.
///
/// # Errors
/// What `allow` says; [`ApiError::Store`].
pub async fn set_rhythm(
    app: &App,
    member: &Member,
    (rhythm, round): (&Rhythm, &RoundSettings),
    allow: impl FnOnce(&Class) -> Result<(), ApiError>,
) -> Result<(), ApiError> {
    let key = member.class.key;
    let tx = begin_alone(app, key.program).await?;
    allow(&classes::one(&tx, key).await?)?;
    settings::set_rhythm(&tx, key, rhythm, round).await?;
    renew_everybody(app, tx, key).await
}

/// Sets when a class meets, once `check` made a calendar of it, given the one before; everybody's standings follow anew.
///
/// # Errors
/// What `check` says; [`ApiError::Store`].
pub async fn set_calendar(
    app: &App,
    member: &Member,
    check: impl FnOnce(&CalendarSettings) -> Result<CalendarSettings, ApiError>,
) -> Result<(), ApiError> {
    let key = member.class.key;
    let tx = begin_alone(app, key.program).await?;
    let settings = check(&calendar::of_class(&tx, key).await?)?;
    calendar::set(&tx, key, &settings).await?;
    renew_everybody(app, tx, key).await
}

async fn renew_everybody(app: &App, tx: DatabaseTransaction, key: ClassKey) -> Result<(), ApiError> {
    let everybody = membership::ids_of_class(&tx, key).await?;
    renew(app, &tx, key.program, &everybody).await?;
    commit(app, tx, [key.class]).await
}

/// Standings follow from which checkpoints there are and in which stages, not from words.
async fn renew_if_read_otherwise(app: &App, tx: DatabaseTransaction, before: &Class) -> Result<(), ApiError> {
    let key = before.key;
    let after = classes::one(&tx, key).await?;
    if app.checklist(before).same_places(&app.checklist(&after)) {
        return commit(app, tx, [key.class]).await;
    }
    renew_everybody(app, tx, key).await
}

/// Changes what a class edits of the checklist. `change` is shown the edits as they are, `allow` the class before and after.
///
/// # Errors
/// What `change` and `allow` fail with; [`ApiError::Invalid`] for edits that cannot be.
pub async fn change_edits(
    app: &App,
    member: &Member,
    change: impl FnOnce(&mut Edits) -> Result<(), ApiError>,
    allow: impl FnOnce(&Class, &Class) -> Result<(), ApiError>,
) -> Result<(), ApiError> {
    let key = member.class.key;
    let tx = begin_alone(app, key.program).await?;
    let before = classes::one(&tx, key).await?;
    let mut edits = before.edits.clone();
    change(&mut edits)?;
    check_edits(app, &edits)?;
    allow(&before, &Class { edits: edits.clone(), ..before.clone() })?;
    settings::write_edits(&tx, key, &edits).await?;
    renew_if_read_otherwise(app, tx, &before).await
}

/// Adds a checkpoint of the class's own and answers its id; the request of the same id sent again is the same checkpoint.
///
/// # Errors
/// [`ApiError::Invalid`] for one that cannot be.
pub async fn add_own(
    app: &App,
    member: &Member,
    request: Option<Uuid>,
    own: OwnCheckpoint,
) -> Result<CheckpointId, ApiError> {
    let key = member.class.key;
    let tx = begin_alone(app, key.program).await?;
    if let Some(id) = done_before(&tx, key.program, request).await? {
        return Ok(CheckpointId::new(id));
    }
    let before = classes::one(&tx, key).await?;
    let mut edits = before.edits.clone();
    let id = edits.new_id(app.content.template.shared(), &own.stage, &own.name);
    edits.own.insert(id.clone(), own);
    check_edits(app, &edits)?;
    settings::write_edits(&tx, key, &edits).await?;
    note_done(app, &tx, key.program, request, id.as_str()).await?;
    renew_if_read_otherwise(app, tx, &before).await?;
    Ok(id)
}

/// Adds a drill of the class's own and answers its id; the request of the same id sent again is the same drill.
///
/// # Errors
/// [`ApiError::Invalid`] for one that cannot be.
pub async fn add_drill(app: &App, member: &Member, request: Option<Uuid>, drill: Drill) -> Result<String, ApiError> {
    let key = member.class.key;
    let tx = begin_alone(app, key.program).await?;
    if let Some(id) = done_before(&tx, key.program, request).await? {
        return Ok(id);
    }
    let mut edits = classes::one(&tx, key).await?.edits;
    let id = edits.new_drill_id(&drill.name);
    edits.drills.insert(id.clone(), Drill { id: id.clone(), ..drill });
    check_edits(app, &edits)?;
    settings::write_edits(&tx, key, &edits).await?;
    note_done(app, &tx, key.program, request, &id).await?;
    commit(app, tx, [key.class]).await?;
    Ok(id)
}

/// Takes away a checkpoint of the class's own that nobody was looked at.
///
/// # Errors
/// [`ApiError::Conflict`] if somebody was; [`ApiError::NotFound`] for any other checkpoint.
pub async fn remove_own(app: &App, member: &Member, id: &CheckpointId) -> Result<(), ApiError> {
    let key = member.class.key;
    let tx = begin_alone(app, key.program).await?;
    if history::any_at(&tx, key, id.as_str()).await? {
        return Err(ApiError::Conflict(
            "Children have observations here. Switch it off instead: the observations stay and keep their name.",
        ));
    }
    let before = classes::one(&tx, key).await?;
    let mut edits = before.edits.clone();
    edits.off.remove(id);
    edits.own.remove(id).ok_or(ApiError::NotFound("checkpoint of the class's own"))?;
    settings::write_edits(&tx, key, &edits).await?;
    renew_if_read_otherwise(app, tx, &before).await
}

fn check_edits(app: &App, edits: &Edits) -> Result<(), ApiError> {
    let mut faults: Vec<FieldError> = Vec::new();
    for EditFault { field, message, .. } in edits.faults(app.content.template.shared()) {
        let fault = FieldError::new(field, sentence(&message));
        // The same words on several instruments are said once.
        if !faults.contains(&fault) {
            faults.push(fault);
        }
    }
    for (_, DrillFault { step, field, message }) in
        edits.drill_faults(app.content.template.shared(), &app.content.lessons)
    {
        let field = step.map_or_else(|| field.to_owned(), |step| format!("steps.{step}.{field}"));
        let fault = FieldError::new(&field, sentence(&message));
        if !faults.contains(&fault) {
            faults.push(fault);
        }
    }
    for WordingFault { language, phrase, message } in family_wording::faults(&edits.phrases) {
        let phrase = phrase.map_or_else(String::new, |phrase| format!(".{}", phrase.word()));
        faults.push(FieldError::new(&format!("languages.{}{phrase}", language.as_str()), sentence(&message)));
    }
    if faults.is_empty() { Ok(()) } else { Err(ApiError::Invalid(faults)) }
}

/// Takes the choices and edits of a file in the place of the class's own, once `agree` says so of what it would be; `agree`
/// is shown the class as it is and whether the request of this id was done before. Own checkpoints and drills of the class stay known,
/// switched off, and languages that the file does not have stay, so that observations keep their name and nothing that was written is lost.
///
/// # Errors
/// What `agree` fails with; [`ApiError::Store`].
pub async fn take_class_file<T>(
    app: &App,
    member: &Member,
    mut file: ClassChecklist,
    request: Option<Uuid>,
    agree: impl FnOnce(&Class, &ClassChecklist, bool) -> Result<(T, bool), ApiError>,
) -> Result<T, ApiError> {
    let key = member.class.key;
    let tx = begin_alone(app, key.program).await?;
    let before = classes::one(&tx, key).await?;
    let done = done_before(&tx, key.program, request).await?.is_some();
    for (id, own) in &before.edits.own {
        if !file.edits.own.contains_key(id) {
            file.edits.own.insert(id.clone(), own.clone());
            file.edits.off.insert(id.clone());
        }
    }
    for (id, own) in before.edits.drills.iter().filter(|(_, drill)| drill.is_own()) {
        if !file.edits.drills.contains_key(id) {
            file.edits.drills.insert(id.clone(), own.clone());
            file.edits.drills_off.insert(id.clone());
        }
    }
    for (language, lines) in &before.edits.phrases {
        file.edits.phrases.entry(language.clone()).or_insert_with(|| lines.clone());
    }
    check_edits(app, &file.edits)?;
    file.edits.turns_on = app.turning_days(&before, (&file.choices, &TurningDays::new()));
    let (answer, agreed) = agree(&before, &file, done)?;
    if !agreed || done {
        return Ok(answer);
    }
    note_done(app, &tx, key.program, request, "").await?;
    settings::choose_nothing(&tx, key).await?;
    settings::choose(&tx, key, &file.choices).await?;
    settings::write_edits(&tx, key, &file.edits).await?;
    renew_if_read_otherwise(app, tx, &before).await?;
    Ok(answer)
}
