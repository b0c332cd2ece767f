//! What a round needs, whole, so that a device can start and walk one without network: whom one could visit and what could
//! be looked at there, with its points and its words; what has happened in rounds today.

use std::collections::{BTreeMap, BTreeSet};

use axum::Json;
use axum::extract::State;
use bright_row_core::craft::checklist::Checklist;
use bright_row_core::craft::id::Target;
use bright_row_core::craft::instrument::Instrument;
use bright_row_core::craft::strand::Strand;
use bright_row_core::round::checks::{Check, visit_points};
use bright_row_core::round::event::RoundEventKind;
use bright_row_core::round::observed::RoundObservation;
use bright_row_core::round::scans::{ClassPart, PartKind, class_parts, far_targets, scans as scans_that_save_time};
use bright_row_store::children::context;
use bright_row_store::classes::Class;
use bright_row_store::rounds;
use bright_row_store::rounds::RoundEvent;
use chrono::{Days, NaiveDate};
use serde::Deserialize;
use utoipa::IntoParams;

use crate::error::ApiError;
use crate::error::answers::ForMembers;
use crate::extract::Query;
use crate::routes::round::check::Words;
use crate::routes::round::events::event_view;
use crate::use_cases::snapshot::{ClassSnapshot, Learner};

use super::kit_views::{LookForView, PartView, RoundChild, RoundKit, RoundStrand, ScanView};
use crate::auth::guard::InClass;
use crate::state::App;

/// Minutes for looking, until a round was started.
pub(crate) const USUAL_MINUTES: u32 = 12;

/// For which meeting.
#[derive(Deserialize, IntoParams)]
#[serde(rename_all = "camelCase")]
#[into_params(parameter_in = Query)]
pub struct Ahead {
    /// So many meetings from now, as if nobody observed anything until then; at most 10.
    #[serde(default)]
    ahead: u32,
}

/// Everything a round of this class needs.
#[utoipa::path(get, path = "/api/classes/{class}/round", tag = "round",
    params(("class" = Uuid, Path, description = "The class"), Ahead),
    responses(
        (status = 200, body = RoundKit),
        ForMembers,
    ))]
pub async fn round_kit(
    State(app): State<App>,
    InClass(member): InClass,
    Query(when): Query<Ahead>,
) -> Result<Json<RoundKit>, ApiError> {
    let class = &member.class;
    let snapshot = ClassSnapshot::new(&app, class).ahead(when.ahead.min(10));
    let today = RoundsOfToday::read(&app, class).await?;
    let own = context::own_look_fors(&app.db, class.key).await?;
    let mut learners = snapshot.learners().await?;
    learners.sort_by_cached_key(Learner::walking_key);
    let checks = checks_of(&snapshot, &learners);
    let words = Words::new(&learners, &own, &app.content.causes);
    let scanning = Scanning { learners: &learners, parts: &parts_of(&learners), snapshot: &snapshot };
    let children = (0..).zip(learners.iter().zip(&checks));
    Ok(Json(RoundKit {
        class_id: class.key.class,
        class_name: class.name.clone(),
        today: today.day,
        meeting: snapshot.now,
        minutes: today.minutes,
        visit_seconds: class.round.visit_seconds,
        max_checks_per_child: class.round.max_checks,
        must_see_after_meetings: class.round.must_see_after,
        strands: strands(&snapshot.checklist),
        children: children.map(|(order, (one, checks))| round_child(&snapshot, order, one, checks, &words)).collect(),
        scans: scanning.scans(&checks),
        parts: scanning.part_views(),
        names: names(&snapshot.checklist),
        events: today.events.into_iter().map(event_view).collect(),
        observations: today.observations,
    }))
}

/// What happened in the rounds that were started today, and how long one is.
struct RoundsOfToday {
    day: NaiveDate,
    minutes: u32,
    events: Vec<RoundEvent>,
    observations: Vec<RoundObservation>,
}

impl RoundsOfToday {
    async fn read(app: &App, class: &Class) -> Result<Self, ApiError> {
        let day = class.calendar.day_of(app.now());
        // A device's clock may run behind.
        let since = class.calendar.begins(day.checked_sub_days(Days::new(1)).unwrap_or(day));
        let (mut events, latest) =
            tokio::try_join!(rounds::since(&app.db, class.key, since), rounds::latest_start(&app.db, class.key))?;
        let starts = events.iter().filter(|event| event.kind == RoundEventKind::Start);
        let starts = starts.filter(|event| class.calendar.day_of(event.happened_at) == day);
        let of_today: BTreeSet<_> = starts.map(|event| event.round).collect();
        events.retain(|event| of_today.contains(&event.round));
        let observations = rounds::observations(&app.db, class.key, &of_today).await?;
        let minutes = latest.and_then(|detail| detail.minutes);
        Ok(Self {
            day,
            minutes: class.short_days.get(&day).copied().or(minutes).unwrap_or(USUAL_MINUTES),
            events,
            observations: observations.iter().filter_map(RoundObservation::of).collect(),
        })
    }
}

/// What could be looked at in each of them, in their order.
fn checks_of(snapshot: &ClassSnapshot<'_>, learners: &[Learner]) -> Vec<Vec<Check>> {
    let checks = |learner: &Learner| {
        let unseen = snapshot.unseen(&learner.child, &learner.standings).meetings;
        let must_see = unseen >= snapshot.class.round.must_see_after;
        learner.pupil(&snapshot.app.content.causes).checks(snapshot.order, must_see)
    };
    learners.iter().map(checks).collect()
}

fn parts_of(learners: &[Learner]) -> Vec<ClassPart> {
    let seats = learners.iter().map(|learner| (learner.child.playing.now, learner.child.seat.map(|seat| seat.row)));
    class_parts(&seats.collect::<Vec<_>>())
}

fn strands(checklist: &Checklist) -> Vec<RoundStrand> {
    Strand::ALL.map(|key| RoundStrand { key, name: checklist.strand_name(key).to_owned() }).into()
}

fn names(checklist: &Checklist) -> BTreeMap<String, String> {
    let stages = checklist.stages().iter().map(|stage| stage.id.to_string());
    let checkpoints = checklist.checkpoints().iter().map(|checkpoint| checkpoint.id.to_string());
    let targets = stages.chain(checkpoints).map(|id| (id.clone(), checklist.target_name(&id)));
    targets.chain(checklist.slips().iter().map(|slip| (slip.id.to_string(), slip.name.clone()))).collect()
}

fn round_child(
    snapshot: &ClassSnapshot<'_>,
    seat_order: u32,
    learner: &Learner,
    checks: &[Check],
    words: &Words<'_>,
) -> RoundChild {
    let unseen = snapshot.unseen(&learner.child, &learner.standings);
    let pupil = learner.pupil(&snapshot.app.content.causes);
    let far: Vec<Target> =
        far_targets(&snapshot.checklist).into_iter().filter(|target| pupil.can_be_scanned(target)).collect();
    let settled = far.iter().filter(|target| checks.iter().all(|check| check.target() != *target));
    RoundChild {
        close_up: settled.filter_map(|target| words.close_up(learner, target)).collect(),
        id: learner.child.id,
        name: learner.child.name.clone(),
        instrument: learner.child.playing.now,
        row: learner.child.seat.map(|seat| seat.row),
        seat_order,
        meetings_unseen: unseen.meetings,
        visited: unseen.visited,
        visit_points: visit_points(unseen.meetings),
        pain: !learner.context.context.pain.is_empty(),
        checks: checks.iter().map(|check| words.check(learner, check)).collect(),
        can_be_scanned: far.iter().map(|target| target.id().to_owned()).collect(),
    }
}

/// The key of a part: `row-2`, `cello`.
fn part_key(kind: PartKind) -> String {
    match kind {
        PartKind::Row(row) => format!("row-{row}"),
        PartKind::Section(instrument) => instrument.name().to_owned(),
    }
}

/// Scans and parts as the page gets them.
struct Scanning<'a> {
    learners: &'a [Learner],
    parts: &'a [ClassPart],
    snapshot: &'a ClassSnapshot<'a>,
}

impl Scanning<'_> {
    fn part_views(&self) -> Vec<PartView> {
        let view = |part: &ClassPart| {
            let children = part.children.iter().map(|index| self.learners[*index].child.id).collect();
            PartView { key: part_key(part.kind), kind: part.kind, children }
        };
        self.parts.iter().map(view).collect()
    }

    /// Those that save time, then everything else that can be seen from afar, for the director to begin by hand.
    fn scans(&self, checks: &[Vec<Check>]) -> Vec<ScanView> {
        let by_child: Vec<_> =
            self.learners.iter().zip(checks).map(|(one, checks)| (one.child.id, checks.as_slice())).collect();
        let scans = scans_that_save_time(&by_child, self.parts);
        let proposed = scans.iter().map(|scan| ScanView {
            part: part_key(self.parts[scan.part].kind),
            resolves: scan.resolves.iter().map(|index| self.learners[*index].child.id).collect(),
            seconds: scan.seconds,
            saves: scan.saves,
            ..self.view(&scan.target)
        });
        let by_hand = far_targets(&self.snapshot.checklist).into_iter().map(|target| self.view(&target));
        proposed.chain(by_hand).collect()
    }

    fn view(&self, target: &Target) -> ScanView {
        let checklist = &self.snapshot.checklist;
        let checkpoints: Vec<_> = match target {
            Target::Checkpoint(id) => checklist.checkpoint(id.as_str()).into_iter().collect(),
            Target::Stage(id) => checklist.checkpoints_of(id).filter(|checkpoint| checkpoint.required).collect(),
        };
        let mut look_fors: Vec<LookForView> = Vec::new();
        for instrument in Instrument::ALL {
            let texts = checkpoints.iter().filter_map(|checkpoint| checkpoint.wording.get(&instrument));
            let text = texts.map(|wording| wording.look_for.clone()).collect::<Vec<_>>().join(". ");
            match look_fors.iter_mut().find(|known| known.look_for == text) {
                _ if text.is_empty() => {}
                Some(known) => known.instruments.push(instrument),
                None => look_fors.push(LookForView { instruments: vec![instrument], look_for: text }),
            }
        }
        ScanView {
            target: target.id().to_owned(),
            name: checklist.target_name(target.id()),
            strand: checklist.strand_of_target(target).unwrap_or(Strand::Hold),
            look_fors,
            part: String::new(),
            resolves: Vec::new(),
            seconds: 0,
            saves: 0,
        }
    }
}
