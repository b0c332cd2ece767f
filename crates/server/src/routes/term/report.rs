//! Reports: the class for the office as a table, a workbook or on paper, and a child's page for a talk with the family.

use std::collections::BTreeMap;

use axum::extract::State;
use bright_row_core::AccountId;
use bright_row_core::ChildId;
use bright_row_core::craft::home::HomePhrase;
use bright_row_core::craft::level::Level;
use bright_row_core::craft::strand::Strand;
use bright_row_core::progress::observation::Via;
use bright_row_core::setup::names::given_name;
use bright_row_documents::list::pages;
use bright_row_documents::term_page::{Learned, TermPage, page};
use bright_row_documents::xlsx::{Cell, Sheet};
use bright_row_store::accounts;
use bright_row_store::children::context;
use bright_row_store::rounds;
use chrono::{DateTime, NaiveDate, Utc};
use serde::Deserialize;
use utoipa::IntoParams;

use super::office::on_paper;
use super::overview::Read;
use crate::auth::guard::{Member, MemberOfChild};
use crate::error::ApiError;
use crate::error::answers::{ForMembers, ForMembersAsking};
use crate::extract::Query;
use crate::extract::files::{Download, PaperQuery, PaperView};
use crate::state::App;
use crate::use_cases::at_home::ClassAtHome;
use crate::use_cases::snapshot::{ClassSnapshot, Learner};
use crate::use_cases::term_past::ClassPast;

/// What the report says besides.
#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct ReportQuery {
    /// When each child was looked at last, and by whom.
    #[serde(default)]
    seen: bool,
}

/// The same on paper.
#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct PaperReportQuery {
    /// A4 by default.
    #[serde(default)]
    #[param(inline)]
    paper: PaperView,
}

/// The class as a table, a row a child by seat: stages reached and when, visits and waits.
#[utoipa::path(get, path = "/api/classes/{class}/term.csv", tag = "term",
    params(("class" = Uuid, Path, description = "The class"), ReportQuery),
    responses(
        (status = 200, body = Vec<u8>, content_type = "text/csv"),
        ForMembersAsking,
    ))]
pub async fn term_csv(
    State(app): State<App>,
    member: Member,
    Query(query): Query<ReportQuery>,
) -> Result<Download, ApiError> {
    let report = Report::read(&app, &member, query.seen).await?;
    Ok(Download::table("term", &report.children))
}

/// The same as a workbook, with the stages by section and every meeting on sheets of their own.
#[utoipa::path(get, path = "/api/classes/{class}/term.xlsx", tag = "term",
    params(("class" = Uuid, Path, description = "The class"), ReportQuery),
    responses(
        (status = 200, body = Vec<u8>, content_type = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"),
        ForMembersAsking,
    ))]
pub async fn term_xlsx(
    State(app): State<App>,
    member: Member,
    Query(query): Query<ReportQuery>,
) -> Result<Download, ApiError> {
    let report = Report::read(&app, &member, query.seen).await?;
    Download::xlsx("term", &[report.children, report.stages, report.meetings, report.attendance])
}

/// Who was there at which meeting, as far as rounds and looks tell it: a row a child, a column a meeting so far.
#[utoipa::path(get, path = "/api/classes/{class}/attendance.csv", tag = "term",
    params(("class" = Uuid, Path, description = "The class")),
    responses(
        (status = 200, body = Vec<u8>, content_type = "text/csv"),
        ForMembers,
    ))]
pub async fn attendance_csv(State(app): State<App>, member: Member) -> Result<Download, ApiError> {
    let report = Report::read(&app, &member, false).await?;
    Ok(Download::table("attendance", &report.attendance))
}

/// The same on paper, in short.
#[utoipa::path(get, path = "/api/classes/{class}/term.pdf", tag = "term",
    params(("class" = Uuid, Path, description = "The class"), PaperReportQuery),
    responses(
        (status = 200, body = Vec<u8>, content_type = "application/pdf"),
        ForMembersAsking,
    ))]
pub async fn term_pdf(
    State(app): State<App>,
    member: Member,
    Query(query): Query<PaperReportQuery>,
) -> Result<Download, ApiError> {
    let report = Report::read(&app, &member, false).await?;
    let title = format!("{}: the term", member.class.name);
    app.readers
        .read(move || {
            let (shown, rows) = on_paper(&report.children);
            Download::pdf("term", &pages(&title, &report.summary, &shown, &rows, query.paper.into()))
        })
        .await?
}

/// A child's page for a talk with the family: what was learned, in words, and what comes next.
#[utoipa::path(get, path = "/api/classes/{class}/children/{child}/term.pdf", tag = "term",
    params(("class" = Uuid, Path, description = "The class"), ("child" = Uuid, Path, description = "The child"), PaperQuery),
    responses(
        (status = 200, body = Vec<u8>, content_type = "application/pdf"),
        ForMembersAsking,
    ))]
pub async fn child_term_pdf(
    State(app): State<App>,
    found: MemberOfChild,
    Query(query): Query<PaperQuery>,
) -> Result<Download, ApiError> {
    let MemberOfChild { member, child } = found;
    let at_home = ClassAtHome::read(ClassSnapshot::new(&app, &member.class)).await?;
    let learner = at_home.snapshot.learner(child.id).await?.ok_or(ApiError::NotFound("child"))?;
    let own = context::own_look_fors(&app.db, member.class.key).await?;
    let phrase = |phrase| app.content.home.phrase(phrase).to_owned();
    let calendar = &member.class.calendar;
    let (first, today) =
        (child.joined_on.max(calendar.date_of(1).unwrap_or(child.joined_on)), calendar.day_of(app.now()));
    let day = |day: NaiveDate| day.format("%-d %b %Y").to_string();
    let term = TermPage {
        school: member.class.program_name.clone(),
        name: given_name(&child.name).to_owned(),
        about: format!("{}, {} to {}", child.playing.now.name(), day(first), day(today)),
        learned_title: phrase(HomePhrase::Learned),
        learned: learned(&app, &learner),
        next_title: phrase(HomePhrase::Next),
        see: phrase(HomePhrase::See),
        next: at_home.shown(&learner, &own)?,
        foot: phrase(HomePhrase::Sore),
    };
    app.readers.read(move || Download::pdf("term", &[page(&term, query.paper.into())])).await?
}

/// What a child does without help now, as the one sign that a grown-up sees, the furthest first.
fn learned(app: &App, learner: &Learner) -> Vec<Learned> {
    let (checklist, home) = (&learner.checklist, &app.content.home);
    let instrument = learner.child.playing.now;
    let of_strand = |(strand, name): (Strand, &str)| {
        let checkpoints = checklist.stages_of(strand).flat_map(|stage| checklist.checkpoints_of(&stage.id));
        let stands = |id| learner.standings.get(id).is_some_and(|standing| standing.level >= Level::Alone);
        let there = checkpoints.filter(|one| one.required && stands(&one.id));
        let signs = there.filter_map(|one| home.signs.get(&one.id)?.get(&instrument).cloned());
        let mut lines: Vec<String> = signs.collect();
        lines.reverse();
        if lines.is_empty() {
            lines.push(home.phrase(HomePhrase::Beginning).to_owned());
        }
        Learned { name: name.to_owned(), lines }
    };
    [(Strand::Hold, "Hold"), (Strand::Bow, "Bow"), (Strand::Frame, "Left hand")].into_iter().map(of_strand).collect()
}

/// A class's term as tables.
struct Report {
    children: Sheet,
    stages: Sheet,
    meetings: Sheet,
    attendance: Sheet,
    summary: String,
}

/// When a child was looked at last, and by whom.
type LastSeen = BTreeMap<ChildId, (DateTime<Utc>, AccountId)>;

impl Report {
    async fn read(app: &App, member: &Member, seen: bool) -> Result<Self, ApiError> {
        let snapshot = ClassSnapshot::new(app, &member.class);
        let past = ClassPast::read(&snapshot).await?;
        let read = Read::new(&snapshot, &past);
        let last: LastSeen = if seen { last_seen(&read) } else { BTreeMap::new() };
        let names = accounts::names(&app.db, last.values().map(|(_, by)| *by)).await?;
        let mut children = read.office_sheet();
        if seen {
            children.headings.extend(["Seen last on", "Seen last by"].map(str::to_owned));
            for (row, past) in children.rows.iter_mut().zip(&read.pasts) {
                let found = last.get(&past.child);
                row.push(found.map_or(Cell::Empty, |(at, _)| Cell::Day(read.span.calendar.day_of(*at))));
                row.push(found.and_then(|(_, by)| names.get(by)).cloned().map_or(Cell::Empty, Cell::Text));
            }
        }
        let bright = read.room().last().map_or(0.0, bright_row_core::term::room::RoomThen::brightness);
        let meetings = read.span.now;
        let summary = format!(
            "{} children, {meetings} meetings, {:.0} % of what the checklist asks is learned on the mean",
            read.pasts.len(),
            bright * 100.0
        );
        let attendance = read.attendance_sheet(&rounds::presence(&app.db, member.class.key).await?);
        Ok(Self { children, stages: read.stage_sheet(), meetings: read.meeting_sheet(), attendance, summary })
    }
}

fn last_seen(read: &Read<'_>) -> LastSeen {
    let looks = read.pasts.iter().filter_map(|past| {
        let visits = past.seen.iter().rev().find(|look| matches!(look.via, Via::Visit | Via::Scan));
        visits.map(|look| (past.child, (look.observed_at, look.observer)))
    });
    looks.collect()
}
