//! The class matched to the store room, and who gets which instrument.

use bright_row_store::instruments::loans::{self, Loan};
use bright_row_store::live::Topic;
use std::collections::{BTreeMap, BTreeSet};

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use bright_row_core::craft::instrument::{Instrument, InstrumentFacts};
use bright_row_core::setup::matching::{self, Asset, Match, Pair, Player, Shortfall, SizeGap};
use bright_row_core::setup::measures::Measures;
use bright_row_core::setup::sizing;
use bright_row_core::{AssetId, ChildId};
use bright_row_store::children::measures;
use bright_row_store::children::{self, Child};
use bright_row_store::classes::ClassKey;
use bright_row_store::instruments::assets;
use serde::{Deserialize, Serialize};
use serde_with::skip_serializing_none;
use utoipa::ToSchema;

use crate::error::answers::{ForDirectorsAgreeing, ForDirectorsWriting, ForMembers};
use crate::error::{ApiError, FieldError};
use crate::extract::Body;

use crate::auth::guard::{Director, DirectorOfChild, Member};
use crate::state::App;
use crate::telemetry::metrics::timed;
use crate::use_cases::{self, lend::Kinds};

/// The class matched to the store.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct MatchView {
    /// By the names of the children.
    pairs: Vec<PairView>,
    /// Children without an instrument, by name.
    without: Vec<WithoutView>,
    /// What to order.
    shortfall: Vec<Shortfall>,
}

/// A child and the instrument proposed.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct PairView {
    child: ChildId,
    name: String,
    instrument: Instrument,
    asset: AssetId,
    tag: String,
    size: String,
    /// The child has it already.
    present: bool,
    /// The director keeps this pair.
    locked: bool,
    /// The size that the measures propose; absent while nobody measured.
    fits: Option<String>,
    /// How far the instrument is from it.
    gap: SizeGap,
    /// In fair condition: taken where nothing better is free.
    fair: bool,
}

/// A child without an instrument.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct WithoutView {
    child: ChildId,
    name: String,
    instrument: Instrument,
    /// The size that is wanted and not free; absent while nobody measured.
    fits: Option<String>,
}

/// A class with its store, read and matched.
pub(crate) struct Matched {
    pub(crate) players: BTreeMap<ChildId, (Player, Child)>,
    pub(crate) assets: BTreeMap<AssetId, Asset>,
    pub(crate) found: Match,
}

/// Reads a class and its program's store, and matches them.
pub(crate) async fn match_of(app: &App, key: ClassKey) -> Result<Matched, ApiError> {
    let mut children = children::of_class(&app.db, key).await?;
    children.sort_by_key(|child| (child.name.to_lowercase(), child.id));
    let measured = measures::of_class(&app.db, key).await?;
    let lent = loans::lent(&app.db, key.program).await?;
    let facts: &BTreeMap<Instrument, InstrumentFacts> = &app.content.instruments;
    let here: BTreeSet<ChildId> = children.iter().map(|child| child.id).collect();
    let store: Vec<Asset> = assets::all(&app.db, key.program)
        .await?
        .into_iter()
        .map(|asset| Asset {
            id: asset.id,
            tag: asset.tag,
            instrument: asset.instrument,
            size: asset.size,
            condition: asset.condition,
            elsewhere: lent.get(&asset.id).is_some_and(|loan| !here.contains(&loan.child)),
        })
        .collect();
    let loans: BTreeMap<ChildId, _> = lent.values().map(|loan| (loan.child, loan)).collect();
    let player = |child: &Child| {
        let measures = measured.get(&child.id).map(|measured| measured.measures).unwrap_or_default();
        player_of(child, &facts[&child.playing.now], &measures, loans.get(&child.id).copied())
    };
    let players: Vec<Player> = children.iter().map(player).collect();
    let found = timed("match", || matching::match_class(facts, &players, &store));
    Ok(Matched {
        players: players.into_iter().zip(children).map(|(player, child)| (child.id, (player, child))).collect(),
        assets: store.into_iter().map(|asset| (asset.id, asset)).collect(),
        found,
    })
}

fn player_of(child: &Child, facts: &InstrumentFacts, measures: &Measures, loan: Option<&Loan>) -> Player {
    let proposal = sizing::propose(facts, measures).ok();
    Player {
        id: child.id,
        instrument: child.playing.now,
        between: proposal.as_ref().is_some_and(|proposal| proposal.between),
        size: proposal.and_then(|proposal| proposal.proposed),
        has: loan.map(|loan| loan.asset),
        locked: loan.is_some_and(|loan| loan.locked),
    }
}

/// The least cost match of the class to the store, with reasons and what is missing.
#[utoipa::path(get, path = "/api/classes/{class}/match", tag = "set-up",
    params(("class" = Uuid, Path, description = "The class")),
    responses(
        (status = 200, body = MatchView),
        ForMembers,
    ))]
pub async fn match_view(State(app): State<App>, member: Member) -> Result<Json<MatchView>, ApiError> {
    let Matched { players, assets, found } = match_of(&app, member.class.key).await?;
    let pair = |pair: &Pair| {
        let ((player, child), asset) = (&players[&pair.child], &assets[&pair.asset]);
        PairView {
            child: child.id,
            name: child.name.clone(),
            instrument: player.instrument,
            asset: asset.id,
            tag: asset.tag.clone(),
            size: asset.size.clone(),
            present: pair.present,
            locked: pair.locked,
            fits: player.size.clone(),
            gap: pair.gap,
            fair: pair.fair,
        }
    };
    let without = |id: &ChildId| {
        let (player, child) = &players[id];
        WithoutView {
            child: child.id,
            name: child.name.clone(),
            instrument: player.instrument,
            fits: player.size.clone(),
        }
    };
    Ok(Json(MatchView {
        pairs: found.pairs.iter().map(pair).collect(),
        without: found.without.iter().map(without).collect(),
        shortfall: found.shortfall,
    }))
}

/// Who gets which instrument.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct Lending {
    pairs: Vec<LendingPair>,
}

/// A child and its instrument; without one it gives its own back.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct LendingPair {
    child: ChildId,
    asset: Option<AssetId>,
}

/// Gives instruments to children, all or none; directors only. Whoever had one of them gives it back; the tapes, and
/// what is known of them, stay on the instrument.
#[utoipa::path(post, path = "/api/classes/{class}/loans", tag = "set-up",
    params(("class" = Uuid, Path, description = "The class")),
    request_body = Lending,
    responses(
        (status = 204, description = "Done"),
        ForDirectorsAgreeing,
    ))]
pub async fn lend_instruments(
    State(app): State<App>,
    Director(member): Director,
    Body(body): Body<Lending>,
) -> Result<StatusCode, ApiError> {
    let pairs: Vec<(ChildId, Option<AssetId>)> = body.pairs.iter().map(|pair| (pair.child, pair.asset)).collect();
    use_cases::lend::lend(&app, &member, &pairs, |kinds| check(&pairs, kinds)).await?;
    Ok(StatusCode::NO_CONTENT)
}

fn check(pairs: &[(ChildId, Option<AssetId>)], kinds: &Kinds) -> Result<(), ApiError> {
    let mut errors = Vec::new();
    let (mut children, mut given) = (BTreeSet::new(), BTreeSet::new());
    for (index, (child, asset)) in pairs.iter().enumerate() {
        let mut wrong = |field: &str, words: &str| {
            errors.push(FieldError::new(&format!("pairs.{index}.{field}"), words));
        };
        match (kinds.children.get(child), asset.map(|asset| kinds.assets.get(&asset))) {
            (None, _) => wrong("child", "This child is not in this class any more."),
            (Some(_), Some(None)) => wrong("asset", "There is no such instrument any more."),
            (Some(plays), Some(Some(kind))) if plays != kind => {
                wrong("asset", "This instrument is of another kind than the child plays.");
            }
            (Some(_), _) => {}
        }
        if !children.insert(*child) {
            wrong("child", "This child stands here twice.");
        }
        if asset.is_some_and(|asset| !given.insert(asset)) {
            wrong("asset", "This instrument stands here twice.");
        }
    }
    if errors.is_empty() { Ok(()) } else { Err(ApiError::Invalid(errors)) }
}

/// Whether a pair is kept.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct Locking {
    locked: bool,
}

/// Keeps a child's instrument whatever a match says, or lets it go; directors only.
#[utoipa::path(put, path = "/api/classes/{class}/children/{child}/loan", tag = "set-up",
    params(("class" = Uuid, Path, description = "The class"), ("child" = Uuid, Path, description = "The child")),
    request_body = Locking,
    responses(
        (status = 204, description = "Done"),
        ForDirectorsWriting,
    ))]
pub async fn lock_loan(
    State(app): State<App>,
    DirectorOfChild { member, child }: DirectorOfChild,
    Body(body): Body<Locking>,
) -> Result<StatusCode, ApiError> {
    loans::lock(&app.db, member.class.key.program, child.id, body.locked).await?;
    app.live.changed(member.class.key.class, Topic::Class);
    Ok(StatusCode::NO_CONTENT)
}
