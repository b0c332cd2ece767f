//! The class's approach: where teachers disagree, what was chosen, and what a change would change.

use std::collections::BTreeMap;

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use bright_row_core::craft::approach::{Choice, Choices};
use bright_row_core::craft::instrument::Instrument;
use bright_row_core::day::Day;
use bright_row_store::children::stored_context;
use bright_row_store::classes::Class;
use chrono::NaiveDate;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::error::answers::{ForDirectorsWriting, ForMembers, ForMembersAsking};
use crate::error::{ApiError, FieldError};
use crate::extract::Body;

use crate::auth::guard::{Director, Member};
use crate::routes::approach::changes::{ChangeView, change_views};
use crate::state::App;
use crate::use_cases::change_settings::{self, TurningDays};

/// A choice with its ways.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct ChoiceView {
    /// `bow-thumb`.
    key: String,
    name: String,
    /// Choices of one group stand together.
    group: String,
    instruments: Vec<Instrument>,
    /// Why the first option is the default.
    why: String,
    /// What changes with it.
    changes: String,
    /// Whether a child may go its own way.
    per_child: bool,
    /// The default first.
    options: Vec<OptionView>,
    /// The option taken; the default, where none was.
    chosen: String,
    /// The day on which that option turns into another.
    #[serde(skip_serializing_if = "Option::is_none")]
    turns_on: Option<NaiveDate>,
}

/// One of the ways.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct OptionView {
    id: String,
    name: String,
    /// What it means, in a line.
    means: String,
    /// Who tends to prefer it.
    suits: String,
    /// What it is meant to turn into after a while.
    #[serde(skip_serializing_if = "Option::is_none")]
    turns: Option<TurnView>,
}

/// What an option turns into.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct TurnView {
    /// The other option.
    into: String,
    /// The day, if it were chosen today.
    after: NaiveDate,
}

pub(crate) fn choice_view(choice: &Choice, class: &Class, today: NaiveDate) -> ChoiceView {
    let option = |option: &bright_row_core::craft::approach::ChoiceOption| OptionView {
        id: option.id.clone(),
        name: option.name.clone(),
        means: option.means.clone(),
        suits: option.suits.clone(),
        turns: option.turns.as_ref().map(|turn| TurnView { into: turn.into.clone(), after: turn.after(today) }),
    };
    let chosen = choice.chosen(&class.choices);
    let turns_on = class.edits.turns_on.get(&choice.key).filter(|_| chosen.turns.is_some());
    ChoiceView {
        key: choice.key.clone(),
        name: choice.name.clone(),
        group: choice.group.clone(),
        instruments: choice.instruments.iter().copied().collect(),
        why: choice.why.clone(),
        changes: choice.changes.clone(),
        per_child: choice.per_child,
        options: choice.options.iter().map(option).collect(),
        chosen: chosen.id.clone(),
        turns_on: turns_on.copied(),
    }
}

/// A class's approach.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct ApproachView {
    /// In the order in which they are read; those of one group side by side.
    choices: Vec<ChoiceView>,
    /// How many children go their own way, by choice; choices without any are left out.
    overrides: BTreeMap<String, usize>,
}

/// What a class chose where teachers disagree, and what there is to choose from.
#[utoipa::path(get, path = "/api/classes/{class}/approach", tag = "approach",
    params(("class" = Uuid, Path, description = "The class")),
    responses(
        (status = 200, body = ApproachView),
        ForMembers,
    ))]
pub async fn approach(State(app): State<App>, member: Member) -> Result<Json<ApproachView>, ApiError> {
    let mut overrides: BTreeMap<String, usize> = BTreeMap::new();
    for known in stored_context::of_class(&app.db, member.class.key).await?.into_values() {
        for key in known.overrides.into_keys() {
            *overrides.entry(key).or_default() += 1;
        }
    }
    let (class, choices) = (&member.class, app.content.approach.choices.iter());
    let today = class.calendar.day_of(app.now());
    let choices = choices.map(|choice| choice_view(choice, class, today)).collect();
    Ok(Json(ApproachView { choices, overrides }))
}

/// Ways to take.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "camelCase", deny_unknown_fields)]
pub struct ApproachBody {
    /// Option by choice; what is not named stays as it is.
    #[schema(value_type = BTreeMap<String, String>)]
    choices: Choices,
    /// By choice, the day on which its option turns into another, if it is one that does; without it, the day that stands, or
    /// as many days from today as the option says.
    #[serde(default)]
    turns_on: BTreeMap<String, Day>,
}

impl ApproachBody {
    /// The ways to take, and the days on which some of them turn.
    fn check(self, app: &App, class: &Class) -> Result<(Choices, TurningDays), ApiError> {
        let approach = &app.content.approach;
        let unknown = self.choices.iter().filter(|(key, option)| !approach.has(key, option));
        let mut faults: Vec<FieldError> =
            unknown.map(|(key, _)| FieldError::new(key, "There is no such way. Load the page again.")).collect();
        let mut all = class.choices.clone();
        all.extend(self.choices.clone());
        for (key, day) in &self.turns_on {
            let turns = approach.chosen(key, &all).is_some_and(|option| option.turns.is_some());
            if !turns {
                faults.push(FieldError::new(key, "This way stays as it is: it needs no day."));
            } else if !class.calendar.spans(day.date()) {
                faults.push(FieldError::new(key, "Choose a day between the first and the last day of the class."));
            }
        }
        let turns_on = self.turns_on.into_iter().map(|(key, day)| (key, day.date())).collect();
        if faults.is_empty() { Ok((self.choices, turns_on)) } else { Err(ApiError::Invalid(faults)) }
    }
}

/// What would read otherwise.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct ChangesView {
    /// In the order of the ladder.
    changes: Vec<ChangeView>,
}

/// Says what a change of the approach would change, without making it.
#[utoipa::path(post, path = "/api/classes/{class}/approach/preview", tag = "approach",
    params(("class" = Uuid, Path, description = "The class")),
    request_body = ApproachBody,
    responses(
        (status = 200, body = ChangesView),
        ForMembersAsking,
    ))]
pub async fn preview_approach(
    State(app): State<App>,
    member: Member,
    Body(body): Body<ApproachBody>,
) -> Result<Json<ChangesView>, ApiError> {
    let class = &member.class;
    let (taken, asked) = body.check(&app, class)?;
    let mut choices = class.choices.clone();
    choices.extend(taken);
    let turns_on = app.turning_days(class, (&choices, &asked));
    let before = app.checklist(class);
    let after = app.content.checklist(&app.choices_with(class, &choices, &turns_on), &class.edits);
    Ok(Json(ChangesView { changes: change_views(&before, &after) }))
}

/// Chooses options for a class; directors only. Look-fors, gates and suggestions read otherwise at once; no observation is lost.
#[utoipa::path(put, path = "/api/classes/{class}/approach", tag = "approach",
    params(("class" = Uuid, Path, description = "The class")),
    request_body = ApproachBody,
    responses(
        (status = 204, description = "Chosen"),
        ForDirectorsWriting,
    ))]
pub async fn choose_options(
    State(app): State<App>,
    Director(member): Director,
    Body(body): Body<ApproachBody>,
) -> Result<StatusCode, ApiError> {
    let (choices, turns_on) = body.check(&app, &member.class)?;
    change_settings::choose(&app, &member, &choices, &turns_on).await?;
    Ok(StatusCode::NO_CONTENT)
}
