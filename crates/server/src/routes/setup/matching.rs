//! The class matched to the store room, and who gets which instrument.

use std::collections::{BTreeMap, BTreeSet};

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use bright_row_core::craft::instrument::{Instrument, InstrumentFacts};
use bright_row_core::setup::matching::{self, Asset, Match, Pair, Player, Shortfall, SizeGap};
use bright_row_core::setup::sizing;
use bright_row_core::{AccountId, AssetId, ChildId};
use bright_row_store::children::{self, Child};
use bright_row_store::classes::{self, ClassKey};
use bright_row_store::{ConnectionTrait, StoreError, TransactionTrait, observations};
use bright_row_store::instruments::assets;
use bright_row_store::children::measures;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::extract::Body;
use crate::error::{ApiError, FieldError, ForDirectorsAgreeing, ForDirectorsWriting, ForMembers};
use crate::routes::views::InstrumentView;
use crate::state::App;
use crate::auth::guard::{Director, DirectorOfChild, Member};

/// The class matched to the store.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct MatchView {
    /// By the names of the children.
    pairs: Vec<PairView>,
    /// Children without an instrument, by name.
    without: Vec<WithoutView>,
    /// What to order.
    shortfall: Vec<ShortfallView>,
}

/// A child and the instrument proposed.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct PairView {
    #[schema(value_type = Uuid)]
    child: ChildId,
    name: String,
    instrument: InstrumentView,
    #[schema(value_type = Uuid)]
    asset: AssetId,
    tag: String,
    size: String,
    /// The child has it already.
    present: bool,
    /// The director keeps this pair.
    locked: bool,
    /// Why, in words.
    reason: String,
}

/// A child without an instrument.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct WithoutView {
    #[schema(value_type = Uuid)]
    child: ChildId,
    name: String,
    instrument: InstrumentView,
    /// Why, and what to do.
    reason: String,
}

/// A size to order.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct ShortfallView {
    instrument: InstrumentView,
    size: String,
    count: usize,
}

/// A class with its store, read and matched.
pub(super) struct Matched {
    pub(super) players: BTreeMap<ChildId, (Player, Child)>,
    pub(super) assets: BTreeMap<AssetId, Asset>,
    pub(super) found: Match,
}

/// Reads a class and its program's store, and matches them.
pub(super) async fn match_of(app: &App, key: ClassKey) -> Result<Matched, ApiError> {
    let mut children = children::of_class(&app.db, key).await?;
    children.sort_by_key(|child| (child.name.to_lowercase(), child.id));
    let measured = measures::of_class(&app.db, key).await?;
    let lent = assets::lent(&app.db, key.program).await?;
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
        let proposal = fit::propose(&facts[&child.playing.now], &measures).ok();
        let loan = loans.get(&child.id);
        Player {
            id: child.id,
            instrument: child.playing.now,
            between: proposal.as_ref().is_some_and(|proposal| proposal.between),
            size: proposal.and_then(|proposal| proposal.proposed),
            has: loan.map(|loan| loan.asset),
            locked: loan.is_some_and(|loan| loan.locked),
        }
    };
    let players: Vec<Player> = children.iter().map(player).collect();
    let found = matching::match_class(facts, &players, &store);
    Ok(Matched {
        players: players.into_iter().zip(children).map(|(player, child)| (child.id, (player, child))).collect(),
        assets: store.into_iter().map(|asset| (asset.id, asset)).collect(),
        found,
    })
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
            instrument: player.instrument.into(),
            asset: asset.id,
            tag: asset.tag.clone(),
            size: asset.size.clone(),
            present: pair.present,
            locked: pair.locked,
            reason: reason(player, pair),
        }
    };
    let without = |id: &ChildId| {
        let (player, child) = &players[id];
        let reason = match &player.size {
            Some(size) => {
                format!("No {} of {size} or just below is free: on the order list.", player.instrument.name())
            }
            None => "Measure first: without a measure no size can be proposed.".to_owned(),
        };
        WithoutView { child: child.id, name: child.name.clone(), instrument: player.instrument.into(), reason }
    };
    let shortfall = |missing: &Shortfall| ShortfallView {
        instrument: missing.instrument.into(),
        size: missing.size.clone(),
        count: missing.count,
    };
    Ok(Json(MatchView {
        pairs: found.pairs.iter().map(pair).collect(),
        without: found.without.iter().map(without).collect(),
        shortfall: found.shortfall.iter().map(shortfall).collect(),
    }))
}

fn reason(player: &Player, pair: &Pair) -> String {
    let fits = player.size.as_deref().unwrap_or_default();
    let size = match pair.gap {
        SizeGap::Exact => format!("{fits} fits"),
        SizeGap::Smaller(1) => format!("one size smaller than {fits}"),
        SizeGap::Smaller(many) => format!("{many} sizes smaller than {fits}: for the time being"),
        SizeGap::Larger => format!("one size larger than {fits}: just below it"),
        SizeGap::Unknown => "not measured yet: kept".to_owned(),
    };
    let also = [(pair.present, "has it already"), (pair.fair, "in fair condition"), (pair.locked, "kept by you")];
    let also = also.into_iter().filter_map(|(is, words)| is.then_some(words));
    std::iter::once(size.as_str()).chain(also).collect::<Vec<_>>().join(", ")
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
    child: Uuid,
    asset: Option<Uuid>,
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
pub async fn lend(
    State(app): State<App>,
    Director(member): Director,
    Body(body): Body<Lending>,
) -> Result<StatusCode, ApiError> {
    let key = member.class.key;
    let pairs: Vec<(ChildId, Option<AssetId>)> =
        body.pairs.iter().map(|pair| (pair.child.into(), pair.asset.map(Into::into))).collect();
    let tx = app.db.begin().await.map_err(StoreError::from)?;
    let here = children::of_class(&tx, key).await?;
    let left = children::who_left(&tx, key).await?;
    let known: BTreeMap<ChildId, Instrument> =
        here.iter().chain(&left).map(|child| (child.id, child.playing.now)).collect();
    let store: BTreeMap<AssetId, Instrument> =
        assets::all(&tx, key.program).await?.into_iter().map(|asset| (asset.id, asset.instrument)).collect();
    check(&pairs, &known, &store)?;
    let changed = assets::lend(&tx, key.program, &pairs, app.now()).await?;
    renew(&app, &tx, member.account, key, &changed).await?;
    tx.commit().await.map_err(StoreError::from)?;
    app.live.changed(key.class);
    Ok(StatusCode::NO_CONTENT)
}

fn check(
    pairs: &[(ChildId, Option<AssetId>)],
    known: &BTreeMap<ChildId, Instrument>,
    store: &BTreeMap<AssetId, Instrument>,
) -> Result<(), ApiError> {
    let mut errors = Vec::new();
    let (mut children, mut given) = (BTreeSet::new(), BTreeSet::new());
    for (index, (child, asset)) in pairs.iter().enumerate() {
        let mut wrong = |field: &str, words: &str| {
            errors.push(FieldError::new(&format!("pairs.{index}.{field}"), words));
        };
        match (known.get(child), asset.map(|asset| store.get(&asset))) {
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

/// Brings the tapes of everybody whose instrument changed up to date, in whatever class of the program they are.
async fn renew(
    app: &App,
    step: &impl ConnectionTrait,
    account: AccountId,
    key: ClassKey,
    changed: &BTreeSet<ChildId>,
) -> Result<(), ApiError> {
    for class in classes::all_for_account(step, account).await?.iter().filter(|c| c.key.program == key.program) {
        observations::renew(step, class, &app.checklist(class), changed).await?;
    }
    Ok(())
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
    assets::lock(&app.db, member.class.key.program, child.id, body.locked).await?;
    app.live.changed(member.class.key.class);
    Ok(StatusCode::NO_CONTENT)
}
