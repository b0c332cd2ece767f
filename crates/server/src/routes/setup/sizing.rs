//! Fitting a class: measures, the size proposed, the set-up card, and what was found right.

use bright_row_core::setup::measures::Measures;
use bright_row_core::setup::sizing::SizeProposal;
use bright_row_store::instruments::loans;
use std::collections::BTreeMap;

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use bright_row_core::ChildId;
use bright_row_core::craft::approach::{PIN, SUPPORT};
use bright_row_core::craft::instrument::{Instrument, InstrumentFacts};
use bright_row_core::setup::body::SetUpPart;
use bright_row_core::setup::fit::SetupNumbers;
use bright_row_core::setup::measures::{Measure, REMEASURE_AFTER_DAYS, wanted_measures, wants_measuring};
use bright_row_core::setup::sizing;
use bright_row_store::children::measures::{self, Finding, Findings, Measured};
use bright_row_store::children::{self, Child};
use bright_row_store::instruments::assets::{self, Asset};
use chrono::{Days, NaiveDate};
use serde::{Deserialize, Serialize};
use serde_with::skip_serializing_none;
use utoipa::ToSchema;

use crate::error::answers::{ForDirectorsWriting, ForMembers};
use crate::error::{ApiError, FieldError};
use crate::extract::Body;
use crate::routes::approach::options::{ChoiceView, choice_view};

use crate::auth::guard::{Director, Member};
use crate::state::App;
use crate::use_cases::change_settings;

/// The class to be fitted.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct FitList {
    today: NaiveDate,
    /// After so many days a child is measured again.
    remeasure_after_days: i64,
    /// Where teachers disagree about the set-up.
    choices: Vec<ChoiceView>,
    /// In which way it goes about the pin.
    pin_way: String,
    /// What is known of each instrument, as the rules in a page read it.
    #[schema(value_type = BTreeMap<String, Object>)]
    facts: BTreeMap<Instrument, InstrumentFacts>,
    /// By seat.
    children: Vec<FitChild>,
}

/// A child to be fitted.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct FitChild {
    id: ChildId,
    name: String,
    instrument: Instrument,
    /// The measures its instrument needs, in the order in which they are taken.
    wanted: Vec<Measure>,
    measures: Measures,
    measured_on: Option<NaiveDate>,
    /// Never measured, or longer ago than the class's days.
    measure_again: bool,
    /// Absent while the measure that decides is missing.
    proposal: Option<SizeProposal>,
    /// When growth would reach the larger size.
    larger_on: Option<NaiveDate>,
    /// The instrument it has: tag and size.
    has: Option<HasView>,
    card: SetupCard,
}

/// An instrument in a child's hands.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct HasView {
    tag: String,
    instrument: Instrument,
    size: String,
}

/// First numbers for the body set-up, and what was found right.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct SetupCard {
    #[serde(flatten)]
    numbers: SetupNumbers,
    /// What was found right, by part.
    found: BTreeMap<String, FoundView>,
}

/// What was found right.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct FoundView {
    mm: Option<f64>,
    words: String,
    on: NaiveDate,
}

/// The class to be fitted: measures, proposals, set-up cards, who is to be measured again.
#[utoipa::path(get, path = "/api/classes/{class}/fit", tag = "set-up",
    params(("class" = Uuid, Path, description = "The class")),
    responses(
        (status = 200, body = FitList),
        ForMembers,
    ))]
pub async fn fit_list(State(app): State<App>, member: Member) -> Result<Json<FitList>, ApiError> {
    let key = member.class.key;
    let children = children::of_class(&app.db, key).await?;
    let measured = measures::of_class(&app.db, key).await?;
    let found = measures::findings(&app.db, key, children.iter().map(|child| child.id)).await?;
    let lent = loans::lent(&app.db, key.program).await?;
    let by_child: BTreeMap<ChildId, Asset> = assets::all(&app.db, key.program)
        .await?
        .into_iter()
        .filter_map(|asset| Some((lent.get(&asset.id)?.child, asset)))
        .collect();
    let class = &member.class;
    let pin = app.content.approach.chosen(PIN, &class.choices).map(|option| option.id.clone()).unwrap_or_default();
    let today = class.calendar.day_of(app.now());
    let none = (Measured::default(), Findings::new());
    let child = |child: Child| {
        let fitting = Fitting {
            app: &app,
            today,
            pin: &pin,
            measured: measured.get(&child.id).unwrap_or(&none.0),
            found: found.get(&child.id).unwrap_or(&none.1),
            has: by_child.get(&child.id),
        };
        fitting.view(child)
    };
    Ok(Json(FitList {
        today,
        remeasure_after_days: REMEASURE_AFTER_DAYS,
        // The two that measuring and the set-up card need; all of them stand under Approach.
        choices: [SUPPORT, PIN]
            .iter()
            .filter_map(|key| app.content.approach.choice(key))
            .map(|choice| choice_view(choice, class, today))
            .collect(),
        facts: app.content.instruments.clone(),
        children: children.into_iter().map(child).collect(),
        pin_way: pin.clone(),
    }))
}

/// Everything known about fitting one child.
struct Fitting<'a> {
    app: &'a App,
    today: NaiveDate,
    pin: &'a str,
    measured: &'a Measured,
    found: &'a Findings,
    has: Option<&'a Asset>,
}

impl Fitting<'_> {
    fn view(&self, child: Child) -> FitChild {
        let instrument = child.playing.now;
        let facts = &self.app.content.instruments[&instrument];
        let measures = &self.measured.measures;
        let proposal = sizing::propose(facts, measures).ok();
        let size = self.has.filter(|asset| asset.instrument == instrument).map(|asset| asset.size.clone());
        let size = size.or_else(|| proposal.as_ref().and_then(|proposal| proposal.proposed.clone()));
        let last = self.measured.last;
        let reaches = proposal.as_ref().and_then(|proposal| proposal.reaches_larger_in_days).zip(last);
        FitChild {
            id: child.id,
            name: child.name,
            instrument,
            wanted: wanted_measures(instrument, self.pin).to_vec(),
            measures: *measures,
            measured_on: last,
            measure_again: wants_measuring(last, self.today),
            larger_on: reaches.and_then(|(days, last)| last.checked_add_days(Days::new(u64::from(days)))),
            has: self.has.map(|asset| HasView {
                tag: asset.tag.clone(),
                instrument: asset.instrument,
                size: asset.size.clone(),
            }),
            card: self.card(instrument, size.as_deref().unwrap_or_default()),
            proposal,
        }
    }

    fn card(&self, instrument: Instrument, size: &str) -> SetupCard {
        let facts = &self.app.content.instruments[&instrument];
        let numbers = SetupNumbers::of(facts, size, &self.measured.measures, self.pin);
        let found = |(part, finding): (&SetUpPart, &Finding)| {
            let view = FoundView { mm: finding.mm, words: finding.words.clone(), on: finding.at.date_naive() };
            (part.word().to_owned(), view)
        };
        SetupCard { numbers, found: self.found.iter().map(found).collect() }
    }
}

/// An option to choose.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct ChosenOption {
    /// `pin`.
    key: String,
    /// `standing`.
    option: String,
}

/// Chooses an option for a class; directors only. No observation or measure is lost by it.
#[utoipa::path(put, path = "/api/classes/{class}/choices", tag = "set-up",
    params(("class" = Uuid, Path, description = "The class")),
    request_body = ChosenOption,
    responses(
        (status = 204, description = "Chosen"),
        ForDirectorsWriting,
    ))]
pub async fn choose(
    State(app): State<App>,
    Director(member): Director,
    Body(body): Body<ChosenOption>,
) -> Result<StatusCode, ApiError> {
    if !app.content.approach.has(&body.key, &body.option) {
        return Err(ApiError::Invalid(vec![FieldError::new(
            "option",
            "There is no such option. Load the page again.",
        )]));
    }
    change_settings::choose(&app, &member, &[(body.key, body.option)].into(), &BTreeMap::new()).await?;
    Ok(StatusCode::NO_CONTENT)
}
