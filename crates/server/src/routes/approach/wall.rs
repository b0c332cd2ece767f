//! A sheet for the classroom's wall: one strand on one instrument, stage by stage, drawn in the class's options.

use axum::extract::State;
use bright_row_core::craft::instrument::Instrument;
use bright_row_core::craft::strand::Strand;
use bright_row_documents::figures::{Drawn, DrawnStage, wall};
use bright_row_documents::pdf::Paper;
use serde::Deserialize;
use utoipa::{IntoParams, ToSchema};

use crate::auth::guard::Member;
use crate::error::ApiError;
use crate::error::answers::ForMembersAsking;
use crate::extract::Query;
use crate::extract::files::Download;
use crate::state::App;

/// The sheets for a wall.
#[derive(Clone, Copy, Debug, Default, Deserialize, ToSchema)]
#[serde(rename_all = "lowercase")]
pub enum WallPaper {
    /// 210 x 297 mm.
    #[default]
    A4,
    /// 297 x 420 mm.
    A3,
    /// 8.5 x 11 in.
    Letter,
    /// 11 x 17 in.
    Tabloid,
}

impl From<WallPaper> for Paper {
    fn from(paper: WallPaper) -> Self {
        match paper {
            WallPaper::A4 => Self::A4,
            WallPaper::A3 => Self::A3,
            WallPaper::Letter => Self::Letter,
            WallPaper::Tabloid => Self::Tabloid,
        }
    }
}

/// Which sheet.
#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct WallQuery {
    /// Hold, bow or frame.
    #[param(inline)]
    strand: Strand,
    /// On which instrument.
    #[param(inline)]
    instrument: Instrument,
    /// A4 by default.
    #[serde(default)]
    #[param(inline)]
    paper: WallPaper,
}

/// A strand on an instrument as a sheet for the wall; no child's name is on it.
#[utoipa::path(get, path = "/api/classes/{class}/wall.pdf", tag = "approach",
    params(("class" = Uuid, Path, description = "The class"), WallQuery),
    responses(
        (status = 200, body = Vec<u8>, content_type = "application/pdf"),
        ForMembersAsking,
    ))]
pub async fn wall_pdf(
    State(app): State<App>,
    member: Member,
    Query(query): Query<WallQuery>,
) -> Result<Download, ApiError> {
    let class = &member.class;
    let WallQuery { strand, instrument, paper } = query;
    let (checklist, drawings) = (app.checklist(class), app.content.drawings(&app.choices(class), &class.edits));
    let title = format!("{}, {}", checklist.strand_name(strand), instrument.name());
    let (whose, file) = (class.name.clone(), format!("wall-{}-{}", strand.key(), instrument.name()));
    let pages = app
        .readers
        .read(move || {
            let stages = checklist.stages().iter().filter(|stage| stage.strand == strand);
            let stages: Vec<DrawnStage> = stages
                .map(|stage| {
                    let all = checklist.checkpoints_of(&stage.id).filter_map(|checkpoint| {
                        let words = checkpoint.wording.get(&instrument)?;
                        let drawing = drawings.checkpoints.get(&checkpoint.id).and_then(|on| on.get(&instrument));
                        Some(Drawn {
                            name: checkpoint.name.clone(),
                            words: words.look_for.clone(),
                            cue: words.cue.clone(),
                            figure: drawing.map(|drawing| drawing.look.draw(instrument)),
                        })
                    });
                    DrawnStage { name: format!("{} {}", stage.number, stage.name), all: all.collect() }
                })
                .collect();
            wall(&title, &whose, &stages, paper.into())
        })
        .await?;
    Download::pdf(&file, &pages)
}
