//! One instrument at the bench: where its markers go, what is known of each, its log, and which marker may go next.

use bright_row_core::craft::instrument::Instrument;
use bright_row_core::tapes::settings::MarkerSettings;
use bright_row_store::instruments::loans;

use axum::Json;
use axum::extract::State;
use bright_row_core::AssetId;
use bright_row_core::progress::tape_status::TapeStatus;
use bright_row_core::tapes::assessment::MarkerAssessment;
use bright_row_core::tapes::bench::BenchBasis;
use bright_row_core::tapes::ear_checks::placing_order;
use bright_row_core::tapes::finger::Spot;
use bright_row_core::tapes::marker_view::MarkerView;
use bright_row_core::tapes::record::TapeRecord;
use bright_row_store::instruments::assets::{self, Asset};
use bright_row_store::instruments::tape_looks::{self, Look};
use bright_row_store::instruments::tapes::{self, Logged};
use serde::Serialize;
use serde_with::skip_serializing_none;
use utoipa::ToSchema;

use crate::extract::AssetInPath;

use crate::error::ApiError;
use crate::error::answers::ForMembers;
use crate::routes::tapes::bench::{BenchChild, TapeStanding};
use crate::routes::tapes::log_views::{LogEntry, ThinningView, entries, thinning};
use crate::routes::tapes::tuning::{OpenStringView, open_strings};
use crate::routes::tapes::views::MarkerSetView;
use crate::use_cases::landings::landings;
use crate::use_cases::snapshot::{ClassSnapshot, Learner};

use crate::auth::guard::InClass;
use crate::state::App;

/// One instrument at the bench.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct TapePage {
    asset: AssetId,
    tag: String,
    instrument: Instrument,
    size: String,
    /// What was measured.
    string_length_mm: Option<f64>,
    /// What is usual for its size: what is computed with until it is measured.
    usual_length_mm: f64,
    child: Option<BenchChild>,
    markers: MarkerSetView,
    settings: MarkerSettings,
    #[serde(flatten)]
    standing: TapeStanding,
    /// Every finger of first position, up the string, with what was measured.
    positions: Vec<MarkerView>,
    /// Where the thumb's pad goes under the neck, where there is one.
    thumb_mm: Option<f64>,
    /// The open strings, low to high.
    open_strings: Vec<OpenStringView>,
    /// The fingers that are to be laid, in the order in which each can be proved.
    placing_order: Vec<String>,
    /// Which marker may go.
    thinning: ThinningView,
    /// Newest first.
    log: Vec<LogEntry>,
    /// From what everything about its markers follows, as the rules in a page read it.
    #[schema(value_type = Object)]
    basis: BenchBasis,
    /// Whether the one who asks may change the class.
    director: bool,
}

/// An instrument's markers, with everything that an evening's work on it needs.
#[utoipa::path(get, path = "/api/classes/{class}/tapes/{asset}", tag = "tapes",
    params(("class" = Uuid, Path, description = "The class"), ("asset" = Uuid, Path, description = "The instrument")),
    responses(
        (status = 200, body = TapePage),
        ForMembers,
    ))]
pub async fn tape_page(
    State(app): State<App>,
    InClass(member): InClass,
    AssetInPath(id): AssetInPath,
) -> Result<Json<TapePage>, ApiError> {
    let class = &member.class;
    let snapshot = ClassSnapshot::new(&app, class);
    let Found { asset, learner, log, looks } = Found::read(&snapshot, id).await?;
    let landed = landings(&app, class, learner.as_slice()).await?.into_values().next().unwrap_or_default();
    let set = snapshot.set_of(asset.instrument);
    let basis = BenchBasis {
        all: app.content.instruments.clone(),
        set: set.clone(),
        size: asset.size.clone(),
        length_mm: asset.string_length_mm,
        events: log.iter().map(|logged| logged.event.clone()).collect(),
    };
    let record = basis.record();
    let assessment = MarkerAssessment::of(&record, set, asset.string_length_mm);
    let status = status_of(&snapshot, &asset, learner.as_ref(), &assessment).await?;
    let standing = TapeStanding::new(status, &assessment, set, landed);
    let page = Page { basis: &basis, record: &record, assessment: &assessment };
    Ok(Json(TapePage {
        asset: id,
        tag: asset.tag.clone(),
        instrument: asset.instrument,
        size: asset.size.clone(),
        string_length_mm: asset.string_length_mm,
        usual_length_mm: basis.usual_length_mm(),
        child: learner.as_ref().map(Into::into),
        markers: set.into(),
        settings: class.marker_settings,
        standing,
        positions: basis.positions(&record).map_err(|fault| ApiError::Internal(fault.to_string()))?,
        thumb_mm: page.thumb_mm(&class.choices),
        open_strings: open_strings(&page.basis.set),
        placing_order: page.placing_order(),
        thinning: thinning(set, &assessment, landed, learner.as_ref()),
        log: entries(&log, looks),
        basis,
        director: member.may_change(),
    }))
}

/// The instrument, who of the class has it, what was done to its markers and seen of them.
struct Found {
    asset: Asset,
    learner: Option<Learner>,
    log: Vec<Logged>,
    looks: Vec<Look>,
}

impl Found {
    async fn read(snapshot: &ClassSnapshot<'_>, id: AssetId) -> Result<Self, ApiError> {
        let (db, class) = (&snapshot.app.db, snapshot.class.key);
        let (asset, loan, log, looks) = tokio::try_join!(
            assets::one(db, class.program, id),
            loans::holder(db, class.program, id),
            tapes::log(db, class.program, id),
            tape_looks::looks(db, class.program, id)
        )?;
        let asset = asset.ok_or(ApiError::NotFound("instrument"))?;
        let learner = match loan.filter(|loan| loan.class == class.class) {
            Some(loan) => snapshot.learner(loan.child).await?,
            None => None,
        };
        Ok(Self { asset, learner, log, looks })
    }
}

/// The tapes of the child who has it; of a free instrument what was last seen on it.
async fn status_of(
    snapshot: &ClassSnapshot<'_>,
    asset: &Asset,
    learner: Option<&Learner>,
    assessment: &MarkerAssessment,
) -> Result<TapeStatus, ApiError> {
    if let Some(learner) = learner {
        return Ok(learner.ladder.tapes);
    }
    let program = snapshot.class.key.program;
    let seen = tape_looks::observations_on(&snapshot.app.db, program, Some(asset.id)).await?;
    Ok(snapshot.free_tapes(assessment, seen.get(&asset.id).map_or(&[], Vec::as_slice)))
}

/// What an instrument's page is made from.
pub(crate) struct Page<'a> {
    pub(crate) basis: &'a BenchBasis,
    pub(crate) record: &'a TapeRecord,
    pub(crate) assessment: &'a MarkerAssessment,
}

impl Page<'_> {
    fn thumb_mm(&self, choices: &bright_row_core::craft::approach::Choices) -> Option<f64> {
        self.basis
            .set
            .spots
            .contains(&Spot::Thumb)
            .then(|| self.basis.set.thumb_mm(self.basis.working_length_mm(), choices))
            .flatten()
    }

    fn placing_order(&self) -> Vec<String> {
        let mut fingers = self.basis.set.fingers();
        // What is on beyond the class's set is proved along with the rest.
        for status in &self.assessment.spots {
            if let Spot::Finger(finger) = status.spot
                && !fingers.contains(&finger)
                && self.record.on().any(|on| on == status.spot)
            {
                fingers.push(finger);
            }
        }
        placing_order(&self.basis.set.facts, &fingers).iter().map(|finger| finger.id().to_owned()).collect()
    }
}
