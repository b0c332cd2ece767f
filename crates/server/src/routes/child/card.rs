//! A card for the music stand: the next one to three things of a child, drawn.

use axum::Json;
use axum::extract::State;
use bright_row_core::progress::page::next_item::{NextKind, NextView};
use bright_row_documents::figures::{Drawn, stand_card};
use bright_row_store::children::stored_context;

use crate::auth::guard::{ChildInClass, MemberOfChild};
use crate::error::ApiError;
use crate::error::answers::ForMembers;
use crate::extract::files::Download;
use crate::routes::child::page;
use crate::state::App;

/// The next one to three things of a child on half a sheet, as it is drawn for this child.
#[utoipa::path(get, path = "/api/classes/{class}/children/{child}/card.pdf", tag = "room",
    params(("class" = Uuid, Path, description = "The class"), ("child" = Uuid, Path, description = "The child")),
    responses(
        (status = 200, body = Vec<u8>, content_type = "application/pdf"),
        ForMembers,
    ))]
pub async fn stand_card_pdf(State(app): State<App>, found: MemberOfChild) -> Result<Download, ApiError> {
    let found = ChildInClass { member: found.member, child: found.child };
    let (class, name, instrument) = (found.member.class.clone(), found.child.name.clone(), found.child.playing.now);
    let known = stored_context::of_child(&app.db, class.key, found.child.id).await?;
    let Json(page) = page::child(State(app.clone()), found).await?;
    let mut choices = app.choices(&class);
    choices.extend(known.overrides);
    let drawings = app.content.drawings(&choices, &class.edits);
    let checklist = app.checklist(&class);
    // Pain and tapes are the grown-ups' work and not on a card.
    let wanted = |next: &&NextView| matches!(next.kind, NextKind::Checkpoint | NextKind::Stage);
    let things = page.next().iter().filter(wanted).map(|next| {
        // A stage is shown by the first of its checkpoints; what counts for this child only is in its words.
        let of_stage = checklist.stages().iter().find(|stage| stage.id.as_str() == next.target);
        let first = of_stage.and_then(|stage| checklist.checkpoints_of(&stage.id).next());
        let target = first.map_or(next.target.as_str(), |checkpoint| checkpoint.id.as_str());
        let drawn = drawings.checkpoints.get(target).and_then(|on| on.get(&instrument));
        let figure = drawn.filter(|_| !page.accommodates(target)).map(|drawn| drawn.look.draw(instrument));
        let words = next.help.clone().unwrap_or_else(|| "Still there? Show it once more.".to_owned());
        Drawn { name: next.name.clone(), words, cue: next.cue.clone().unwrap_or_default(), figure }
    });
    let things: Vec<Drawn> = things.collect();
    // The name of the file names no child: it may lie in a folder that others see.
    Download::pdf("stand-card", &[stand_card(&name, instrument.name(), &things)])
}
