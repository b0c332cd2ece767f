//! Everything that is kept about one child, for a family that asks: as JSON, and to print.

use std::fmt::Write;

use axum::Json;
use axum::extract::State;
use axum::http::header;
use axum::response::IntoResponse;
use bright_row_core::ChildId;
use bright_row_core::craft::checklist::Checklist;
use bright_row_documents::record::{Section, pages};
use bright_row_store::children::record::{self, Rows};
use chrono::{DateTime, Utc};
use serde::Serialize;
use serde_json::Value;
use utoipa::ToSchema;

use crate::auth::guard::{MemberOfChild, may_change};
use crate::error::ApiError;
use crate::error::answers::ForDirectors;
use crate::extract::Query;
use crate::extract::files::{Download, PaperQuery};
use crate::state::App;

/// Everything that is kept about a child.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct ChildRecord {
    /// The version of this form.
    #[serde(rename = "brightRowChildRecord")]
    form: u32,
    made_at: DateTime<Utc>,
    program: String,
    class: String,
    child: ChildId,
    name: String,
    /// By table, the rows that name the child. Which grown-up did it is left out.
    #[schema(value_type = Object)]
    tables: Rows,
}

/// Everything that is kept about a child, as data; directors only, also of an archived class.
#[utoipa::path(get, path = "/api/classes/{class}/children/{child}/record.json", tag = "room",
    params(("class" = Uuid, Path, description = "The class"), ("child" = Uuid, Path, description = "The child")),
    responses((status = 200, body = ChildRecord), ForDirectors))]
pub async fn record_json(State(app): State<App>, found: MemberOfChild) -> Result<impl IntoResponse, ApiError> {
    may_change(found.member.role)?;
    let tables = record::of_child(&app.db, found.member.class.key.program, found.child.id).await?;
    let record = ChildRecord {
        form: 1,
        made_at: app.now(),
        program: found.member.class.program_name.clone(),
        class: found.member.class.name.clone(),
        child: found.child.id,
        name: found.child.name,
        tables,
    };
    // The name of the file names no child: it may lie in a folder that others see.
    Ok(([(header::CONTENT_DISPOSITION, "attachment; filename=\"child-record.json\"")], Json(record)))
}

/// Everything that is kept about a child, to print; directors only, also of an archived class.
#[utoipa::path(get, path = "/api/classes/{class}/children/{child}/record.pdf", tag = "room",
    params(("class" = Uuid, Path, description = "The class"), ("child" = Uuid, Path, description = "The child"), PaperQuery),
    responses((status = 200, body = Vec<u8>, content_type = "application/pdf"), ForDirectors))]
pub async fn record_pdf(
    State(app): State<App>,
    found: MemberOfChild,
    Query(query): Query<PaperQuery>,
) -> Result<Download, ApiError> {
    may_change(found.member.role)?;
    let class = &found.member.class;
    let rows = record::of_child(&app.db, class.key.program, found.child.id).await?;
    let under = format!("{}, {}, as of {}", class.program_name, class.name, class.calendar.day_of(app.now()));
    let title = format!("What is kept about {}", found.child.name);
    let checklist = app.checklist(class);
    let drawn =
        app.readers.read(move || pages(&title, &under, &sections(&rows, &checklist), query.paper.into())).await?;
    Download::pdf("child-record", &drawn)
}

fn text(row: &Value, column: &str) -> String {
    match &row[column] {
        Value::Null => String::new(),
        Value::String(text) => text.clone(),
        other => other.to_string(),
    }
}

/// The day of a moment or day, `2026-11-29`.
fn day(row: &Value, column: &str) -> String {
    text(row, column).chars().take(10).collect()
}

/// Headings, words for each row: every table that names a child has a section, one that nobody wrote words for as well.
fn sections(rows: &Rows, checklist: &Checklist) -> Vec<Section> {
    const IN_ORDER: [&str; 16] = [
        "child",
        "played",
        "seat",
        "measuring",
        "setup_found",
        "loan",
        "standing",
        "observation",
        "pain_answer",
        "family_answer",
        "child_home",
        "accommodation",
        "child_choice",
        "stage_opened",
        "round_event_child",
        "roster_change",
    ];
    let rest = rows.keys().map(String::as_str).filter(|table| !IN_ORDER.contains(table));
    let of = |table: &str| {
        let lines = rows.get(table).map(|rows| rows.iter().map(|row| line(table, row, checklist)).collect());
        Section { heading: heading(table).to_owned(), lines: lines.unwrap_or_default() }
    };
    IN_ORDER.into_iter().chain(rest).map(of).collect()
}

fn heading(table: &str) -> &str {
    match table {
        "child" => "Entry in the roster",
        "played" => "Played before",
        "seat" => "Seat",
        "measuring" => "Measures",
        "setup_found" => "Set-up found right",
        "loan" => "Instruments on loan",
        "standing" => "How it stands",
        "observation" => "Seen",
        "pain_answer" => "Done after it hurt",
        "family_answer" => "Answered about practice at home",
        "child_home" => "Agreed about practice at home",
        "accommodation" => "What counts for this child",
        "child_choice" => "Ways of its own",
        "stage_opened" => "Stages opened",
        "round_event_child" => "Rounds",
        "roster_change" => "Changed by an import",
        other => other,
    }
}

/// The day and the words of a row.
fn line(table: &str, row: &Value, checklist: &Checklist) -> (String, String) {
    let target = |column: &str| name(checklist, &text(row, column));
    let slips = || -> String {
        let ids = row["slips"].as_array().into_iter().flatten().filter_map(Value::as_str);
        let names: Vec<String> =
            ids.map(|id| checklist.slip(id).map_or(id.to_owned(), |slip| slip.name.clone())).collect();
        if names.is_empty() { String::new() } else { format!("; {}", names.join(", ")) }
    };
    let ended = |column: &str| {
        let day = day(row, column);
        if day.is_empty() { String::new() } else { format!(" (until {day})") }
    };
    match table {
        "child" => (day(row, "joined_on"), entry(row)),
        "played" => (day(row, "until"), format!("{} until then", text(row, "instrument"))),
        "seat" => (String::new(), format!("row {}, seat {}", text(row, "row_number"), text(row, "seat_number"))),
        "measuring" => (day(row, "measured_on"), measures(row)),
        "setup_found" => {
            let mm = text(row, "mm");
            let mm = if mm.is_empty() { mm } else { format!(" {mm} mm") };
            (day(row, "found_at"), format!("{}{mm} {}", text(row, "kind"), text(row, "words")))
        }
        "loan" => {
            let (tag, what, size) = (text(row, "tag"), text(row, "instrument"), text(row, "size"));
            (day(row, "since"), format!("{tag}, {what} {size}{}", ended("until")))
        }
        "standing" => (day(row, "looked_at"), format!("{}: {}{}", target("checkpoint_id"), level(row), slips())),
        "observation" => (day(row, "observed_at"), seen(row, checklist, &slips())),
        "pain_answer" => (day(row, "answered_at"), text(row, "done")),
        "family_answer" => (day(row, "answered_at"), answered(row, &target("target"))),
        "accommodation" => {
            let look_for = text(row, "look_for");
            let counts = if look_for.is_empty() { "does not apply".to_owned() } else { look_for };
            let words = format!("{}: {counts}; {}{}", target("checkpoint_id"), text(row, "reason"), ended("ended_at"));
            (day(row, "made_at"), words)
        }
        "child_home" => (String::new(), agreed(row)),
        "child_choice" => (String::new(), format!("{}: {}", text(row, "key"), text(row, "choice"))),
        "stage_opened" => (day(row, "opened_at"), format!("{}{}", target("stage_id"), ended("ended_at"))),
        "round_event_child" => (day(row, "happened_at"), text(row, "kind")),
        _ => (String::new(), row.to_string()),
    }
}

/// What is agreed about practice at home.
fn agreed(row: &Value) -> String {
    let agreement = &row["agreement"]["data"];
    let days: Vec<String> = agreement["days"].as_array().into_iter().flatten().map(Value::to_string).collect();
    let days = (!days.is_empty()).then(|| format!("on days {} of the week", days.join(", ")));
    let minutes = agreement["minutes"].as_u64().map(|minutes| format!("{minutes} minutes a day"));
    let large = (agreement["large"] == Value::Bool(true)).then(|| "in large print".to_owned());
    let language = agreement["language"].as_str().map(|language| format!("the card in {language} too"));
    [days, minutes, large, language].into_iter().flatten().collect::<Vec<_>>().join(", ")
}

/// What a family answered, and what was done about it.
fn answered(row: &Value, at: &str) -> String {
    let (days, says, done) = (text(row, "days"), text(row, "says"), text(row, "done"));
    let words = match (days.is_empty(), says.as_str()) {
        (false, _) => format!("practised on {days} days of the week"),
        (true, "") => "taken back".to_owned(),
        (true, "hurts") => format!("hurts: {at}"),
        (true, says) => says.to_owned(),
    };
    if done.is_empty() { words } else { format!("{words}; done: {done}") }
}

fn name(checklist: &Checklist, id: &str) -> String {
    let checkpoint = checklist.checkpoint(id).map(|checkpoint| checkpoint.name.clone());
    let named = checkpoint.or_else(|| checklist.stage(id).map(|stage| stage.name.clone()));
    named.unwrap_or_else(|| id.to_owned())
}

fn entry(row: &Value) -> String {
    let mut words = format!("{}, {}", text(row, "name"), text(row, "instrument"));
    for (column, before) in [("grade", "grade "), ("school_number", "school number "), ("left_on", "left on ")] {
        let value = text(row, column);
        if !value.is_empty() {
            let _ = write!(words, "; {before}{value}");
        }
    }
    for (column, said) in [("near_front", "sits near the front"), ("near_aisle", "sits near the aisle")] {
        if row[column] == Value::Bool(true) {
            let _ = write!(words, "; {said}");
        }
    }
    words
}

fn measures(row: &Value) -> String {
    let columns = ["arm_mm", "height_mm", "span_mm", "knee_mm", "lip_mm", "forehead_mm"];
    let measured = columns.into_iter().filter(|column| !row[*column].is_null());
    let words = measured.map(|column| format!("{} {} mm", column.trim_end_matches("_mm"), text(row, column)));
    words.collect::<Vec<_>>().join(", ")
}

fn level(row: &Value) -> String {
    const WORDS: [&str; 5] = ["0, not yet", "1, placed", "2, prompted", "3, alone", "4, lasting"];
    let number = row["level"].as_u64().and_then(|level| usize::try_from(level).ok());
    number.and_then(|level| WORDS.get(level)).copied().unwrap_or_default().to_owned()
}

fn seen(row: &Value, checklist: &Checklist, slips: &str) -> String {
    let mut words = format!("{}: ", name(checklist, &text(row, "target")));
    if !row["retracts"].is_null() {
        words.push_str("taken back");
    } else if row["level"].is_null() {
        let except = row["except_checkpoints"].as_array().into_iter().flatten().filter_map(Value::as_str);
        let except: Vec<String> = except.map(|id| name(checklist, id)).collect();
        words.push_str("holds");
        if !except.is_empty() {
            let _ = write!(words, ", except {}", except.join(", "));
        }
    } else {
        words.push_str(&level(row));
    }
    words.push_str(slips);
    for (column, before) in [("says", "the child says: "), ("note", "")] {
        let value = text(row, column);
        if !value.is_empty() {
            let _ = write!(words, "; {before}{value}");
        }
    }
    words
}
