//! How what a class looks at is drawn: by its options, and by those of children who go their own way.

use std::collections::BTreeMap;

use axum::Json;
use axum::extract::State;
use bright_row_core::ChildId;
use bright_row_core::craft::drawings::ClassDrawings;
use bright_row_store::children::{context, stored_context};
use serde::Serialize;
use utoipa::ToSchema;

use crate::auth::guard::InClass;
use crate::error::ApiError;
use crate::error::answers::ForMembers;
use crate::state::App;

/// The drawings of a class.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct DrawingsOfClass {
    /// By the class's options.
    class: ClassDrawings,
    /// What differs for children who go their own way; nothing is drawn where something else counts for a child.
    #[schema(value_type = BTreeMap<String, ClassDrawings>)]
    children: BTreeMap<ChildId, ClassDrawings>,
}

/// The views and numbers of everything that is drawn; the pages draw them.
#[utoipa::path(get, path = "/api/classes/{class}/drawings", tag = "approach",
    params(("class" = Uuid, Path, description = "The class")),
    responses(
        (status = 200, body = DrawingsOfClass),
        ForMembers,
    ))]
pub async fn drawings(State(app): State<App>, InClass(member): InClass) -> Result<Json<DrawingsOfClass>, ApiError> {
    let class = &member.class;
    let choices = app.choices(class);
    let drawn = app.content.drawings(&choices, &class.edits);
    let own = stored_context::of_class(&app.db, class.key).await?.into_iter();
    let own = own.filter(|(_, known)| !known.overrides.is_empty()).map(|(child, known)| {
        let mut choices = choices.clone();
        choices.extend(known.overrides);
        (child, app.content.drawings(&choices, &class.edits).differing_from(&drawn))
    });
    let mut children: BTreeMap<ChildId, ClassDrawings> = own.collect();
    // What counts for one child only is in its words: the class's drawing would say something else.
    for (child, checkpoints) in context::accommodated(&app.db, class.key).await? {
        let own = &mut children.entry(child).or_default().checkpoints;
        own.extend(checkpoints.into_iter().map(|checkpoint| (checkpoint, BTreeMap::new())));
    }
    Ok(Json(DrawingsOfClass { class: drawn, children }))
}
