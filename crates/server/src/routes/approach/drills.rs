//! The drills of a class: the shared ones, reworded or switched off, and its own.

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use bright_row_core::craft::drills::Drill;
use bright_row_core::craft::edits::Edits;
use bright_row_store::classes::Class;
use serde::{Deserialize, Serialize};
use serde_with::skip_serializing_none;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::auth::guard::{Director, Member};
use crate::error::ApiError;
use crate::error::answers::{ForDirectorsAgreeing, ForDirectorsReplacing, ForDirectorsWriting, ForMembers};
use crate::extract::based_on::{BasedOn, BasedOnHeaders, version};
use crate::extract::{Body, DrillInPath};
use crate::routes::approach::own_checkpoints::Added;
use crate::state::App;
use crate::use_cases::change_settings::{self, change_edits};

/// A drill as a class reads and changes it.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct EditedDrill {
    /// As it reads.
    drill: Drill,
    /// As it ships, where the class worded it otherwise.
    shared: Option<Drill>,
    /// The class added it.
    own: bool,
    /// The class switched it off.
    off: bool,
    /// The version of all this.
    #[serde(skip_serializing_if = "String::is_empty")]
    version: String,
}

/// The drills of a class, those that are switched off as well.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct DrillList {
    drills: Vec<EditedDrill>,
}

/// What a class changes on a drill.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "camelCase", deny_unknown_fields)]
pub struct DrillBody {
    /// Switched off.
    off: bool,
    /// How it reads; its id is that of the path. Absent: as it ships.
    #[serde(default)]
    drill: Option<Drill>,
}

/// A drill of the class's own.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "camelCase", deny_unknown_fields)]
pub struct NewDrillBody {
    /// Its id is given here, whatever stands there.
    drill: Drill,
    /// The id that the page gave this when the form opened: the same added again is not one more.
    #[serde(default)]
    request: Option<Uuid>,
}

/// Every drill of the class, with what the class did to it.
#[utoipa::path(get, path = "/api/classes/{class}/drills", tag = "approach",
    params(("class" = Uuid, Path, description = "The class")),
    responses(
        (status = 200, body = DrillList),
        ForMembers,
    ))]
pub async fn drills(State(app): State<App>, member: Member) -> Json<DrillList> {
    let mut drills = views(&app, &member.class);
    for drill in &mut drills {
        drill.version = version(drill);
    }
    Json(DrillList { drills })
}

fn views(app: &App, class: &Class) -> Vec<EditedDrill> {
    let shared = app.content.lessons.under(&app.content.approach, &app.choices(class));
    let edits = &class.edits;
    let view = |drill: Drill| EditedDrill {
        shared: edits.drills.contains_key(&drill.id).then(|| shared.drill(&drill.id).cloned()).flatten(),
        own: drill.is_own(),
        off: edits.drills_off.contains(&drill.id),
        version: String::new(),
        drill,
    };
    edits.lessons_with_off(shared.clone()).drills.into_iter().map(view).collect()
}

/// Whether a class as it was may be changed to what it would be at this drill.
fn allow(app: &App, based_on: &BasedOn, id: &str, (before, after): (&Class, &Class)) -> Result<(), ApiError> {
    let of = |class: &Class| views(app, class).into_iter().find(|view| view.drill.id == id);
    let wanted = of(after).ok_or(ApiError::NotFound("drill"))?;
    based_on.allow(of(before).as_ref(), &wanted)
}

/// Switches a drill off or on and words it for the class; directors only.
#[utoipa::path(put, path = "/api/classes/{class}/drills/{drill}", tag = "approach",
    params(
        ("class" = Uuid, Path, description = "The class"),
        ("drill" = String, Path, description = "The drill"),
        BasedOnHeaders,
    ),
    request_body = DrillBody,
    responses(
        (status = 204, description = "Counts from now on"),
        ForDirectorsReplacing,
    ))]
pub async fn change_drill(
    State(app): State<App>,
    Director(member): Director,
    DrillInPath(id): DrillInPath,
    based_on: BasedOn,
    Body(body): Body<DrillBody>,
) -> Result<StatusCode, ApiError> {
    let shared = app.content.lessons.under(&app.content.approach, &app.choices(&member.class));
    let change = |edits: &mut Edits| {
        let ships = shared.drill(&id);
        if ships.is_none() && !edits.drills.contains_key(&id) {
            return Err(ApiError::NotFound("drill"));
        }
        if body.off {
            edits.drills_off.insert(id.clone());
        } else {
            edits.drills_off.remove(&id);
        }
        match body.drill.map(|drill| Drill { id: id.clone(), ..trimmed(drill) }) {
            // What is as it ships is not kept as the class's own.
            Some(drill) if ships != Some(&drill) => drop(edits.drills.insert(id.clone(), drill)),
            None if ships.is_none() => {}
            _ => drop(edits.drills.remove(&id)),
        }
        Ok(())
    };
    change_edits(&app, &member, change, |before, after| allow(&app, &based_on, &id, (before, after))).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Adds a drill of the class's own; directors only.
#[utoipa::path(post, path = "/api/classes/{class}/drills", tag = "approach",
    params(("class" = Uuid, Path, description = "The class")),
    request_body = NewDrillBody,
    responses(
        (status = 201, body = Added),
        ForDirectorsWriting,
    ))]
pub async fn add_drill(
    State(app): State<App>,
    Director(member): Director,
    Body(body): Body<NewDrillBody>,
) -> Result<(StatusCode, Json<Added>), ApiError> {
    let id = change_settings::add_drill(&app, &member, body.request, trimmed(body.drill)).await?;
    Ok((StatusCode::CREATED, Json(Added { id })))
}

/// Takes away a drill of the class's own; directors only. A lesson that was kept with it goes on without.
#[utoipa::path(delete, path = "/api/classes/{class}/drills/{drill}", tag = "approach",
    params(
        ("class" = Uuid, Path, description = "The class"),
        ("drill" = String, Path, description = "The drill"),
    ),
    responses(
        (status = 204, description = "Gone"),
        ForDirectorsAgreeing,
    ))]
pub async fn remove_drill(
    State(app): State<App>,
    Director(member): Director,
    DrillInPath(id): DrillInPath,
) -> Result<StatusCode, ApiError> {
    let change = |edits: &mut Edits| {
        let own = edits.drills.remove(&id).is_some_and(|drill| drill.is_own());
        edits.drills_off.remove(&id);
        if own { Ok(()) } else { Err(ApiError::NotFound("drill of the class's own")) }
    };
    change_edits(&app, &member, change, |_, _| Ok(())).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Without spaces around its texts.
fn trimmed(mut drill: Drill) -> Drill {
    let texts = drill.steps.iter_mut().flat_map(|step| step.text.values_mut().chain(&mut step.say));
    for text in texts.chain([&mut drill.name, &mut drill.aim]) {
        *text = text.trim().to_owned();
    }
    drill
}
