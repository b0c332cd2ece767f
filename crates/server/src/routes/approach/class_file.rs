//! What a class chose and changed as one file: out, and in again, first as a preview.

use std::sync::Arc;

use crate::failure::sentence;
use axum::Json;
use axum::extract::State;
use bright_row_core::craft::loader::Source;
use bright_row_core::craft::loader::class_file::{self, ClassChecklist};
use bright_row_store::classes::Class;
use serde::Serialize;
use utoipa::ToSchema;

use crate::auth::guard::{Director, Member};
use crate::digest::digest;
use crate::error::answers::{ForDirectorsImporting, ForMembers};
use crate::error::{ApiError, FieldError};
use crate::extract::Query;
use crate::extract::files::{Agreement, Download, Upload};
use crate::routes::approach::changes::{ChangeView, change_views};
use crate::state::App;
use crate::use_cases::change_settings::take_class_file;

/// A class's choices and changes as a file that `check-content` checks and another class can take in.
#[utoipa::path(get, path = "/api/classes/{class}/checklist.toml", tag = "approach",
    params(("class" = Uuid, Path, description = "The class")),
    responses(
        (status = 200, body = String, content_type = "application/toml"),
        ForMembers,
    ))]
pub async fn class_file_out(member: Member) -> Result<Download, ApiError> {
    let Class { name, choices, edits, .. } = Arc::unwrap_or_clone(member.class);
    let text = class_file::write(&ClassChecklist { choices, edits });
    let name = format!("{name} checklist.toml");
    Ok(Download { name, kind: "application/toml", bytes: text.into_bytes() })
}

/// What taking a file in would change, or did.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct ClassFilePreview {
    /// In the order of the ladder.
    changes: Vec<ChangeView>,
    /// Choices that would be taken otherwise.
    choices: usize,
    /// Drills that would come, go or read otherwise.
    drills: usize,
    /// Languages of families in which cards would read otherwise.
    languages: usize,
    /// Stands for exactly this; send it to agree.
    digest: String,
    /// It is stored.
    done: bool,
}

/// Shows what a file would change, or, with the digest of that, takes it in the place of the class's choices and changes;
/// directors only. Own checkpoints and drills that are not in it stay, switched off.
#[utoipa::path(post, path = "/api/classes/{class}/checklist/import", tag = "approach",
    params(("class" = Uuid, Path, description = "The class"), Agreement),
    request_body(content = Vec<u8>, content_type = "application/octet-stream"),
    responses(
        (status = 200, body = ClassFilePreview),
        ForDirectorsImporting,
    ))]
pub async fn class_file_in(
    State(app): State<App>,
    Director(member): Director,
    Query(agreement): Query<Agreement>,
    Upload(bytes): Upload,
) -> Result<Json<ClassFilePreview>, ApiError> {
    let fault = |words: String| FieldError::new("file", words);
    let text = String::from_utf8(bytes.into()).map_err(|_| {
        ApiError::Invalid(vec![fault("This is not a text file. Export a checklist and try again.".to_owned())])
    })?;
    let content = app.content.clone();
    let read = app.readers.read(move || class_file::read(Source { path: "", text: &text }, &content)).await?;
    let file = read.map_err(|faults| {
        ApiError::Invalid(
            faults
                .iter()
                .take(MAX_FAULTS_SAID)
                .map(|found| fault(format!("Line {}: {}", found.line, sentence(&found.message))))
                .collect(),
        )
    })?;
    let preview = take_class_file(&app, &member, file, agreement.import, |class, file, done| {
        let mut preview = preview(&app, class, file)?;
        preview.done = done;
        let Some(agreed) = agreement.digest.filter(|_| !done) else { return Ok((preview, false)) };
        if agreed != preview.digest {
            return Err(ApiError::Conflict(
                "The checklist has changed since you looked. Look again; nothing was changed.",
            ));
        }
        preview.done = true;
        Ok((preview, true))
    });
    Ok(Json(preview.await?))
}

/// What taking `file` would change for a class.
fn preview(app: &App, class: &Class, file: &ClassChecklist) -> Result<ClassFilePreview, ApiError> {
    let chosen = &class.choices;
    let before = app.checklist(class);
    let after = app.content.checklist(&app.choices_with(class, &file.choices, &file.edits.turns_on), &file.edits);
    let choices = app.content.approach.choices.iter();
    let choices = choices.filter(|choice| choice.chosen(chosen) != choice.chosen(&file.choices)).count();
    let [were, are] = [(chosen, &class.edits), (&file.choices, &file.edits)]
        .map(|(choices, edits)| app.content.lessons(&app.choices_with(class, choices, &edits.turns_on), edits).drills);
    let drills = were.iter().filter(|drill| !are.contains(drill)).count()
        + are.iter().filter(|drill| were.iter().all(|was| was.id != drill.id)).count();
    let worded = &class.edits.phrases;
    let languages = file.edits.phrases.iter().filter(|(language, lines)| worded.get(*language) != Some(*lines)).count();
    let mut preview = ClassFilePreview {
        changes: change_views(&before, &after),
        choices,
        drills,
        languages,
        digest: String::new(),
        done: false,
    };
    let shown = serde_json::to_string(&preview).map_err(|error| ApiError::Internal(error.to_string()))?;
    preview.digest = digest(&format!("{shown}{}", class_file::write(file)));
    Ok(preview)
}

/// Faults said at once.
const MAX_FAULTS_SAID: usize = 20;
