//! Files that come in and go out: bytes with a limit, downloads with a name.

use std::time::Duration;

use axum::body::Bytes;
use axum::extract::{FromRef, FromRequest, Request};
use axum::http::{HeaderValue, StatusCode, header};
use axum::response::{IntoResponse, Response};
use bright_row_documents::pdf::{Drawing, Paper, pdf};
use bright_row_documents::table::Bounds;
use bright_row_documents::xlsx::{self, Cell, Sheet};
use percent_encoding::{NON_ALPHANUMERIC, utf8_percent_encode};
use serde::Deserialize;
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

use crate::error::ApiError;
use crate::readers::{Place, ReadersDesk};

/// A file sent as the body, at most [`Bounds::USUAL`] bytes.
pub struct Upload(pub Bytes);

impl<S: Send + Sync> FromRequest<S> for Upload {
    type Rejection = ApiError;

    async fn from_request(request: Request, state: &S) -> Result<Self, ApiError> {
        Ok(Self(file_in(request, state, Bounds::USUAL).await?))
    }
}

/// A roster of a whole district, at most [`Bounds::DISTRICT`] bytes: as few at once as are read at once.
///
/// Who asks is to be found out before: nobody else's body is kept.
pub struct LargeUpload(pub Bytes, pub Option<Place>);

/// A large file that does not come within this time is given up.
const LONGEST_UPLOAD: Duration = Duration::from_mins(10);

impl<S: Send + Sync> FromRequest<S> for LargeUpload
where
    ReadersDesk: FromRef<S>,
{
    type Rejection = ApiError;

    async fn from_request(request: Request, state: &S) -> Result<Self, ApiError> {
        let length =
            request.headers().get(header::CONTENT_LENGTH).and_then(|length| length.to_str().ok()?.parse().ok());
        // A file of unknown length may be a large one.
        let usual = length.is_some_and(|length: usize| length <= Bounds::USUAL.bytes);
        let place = if usual { None } else { Some(ReadersDesk::from_ref(state).place_for_a_large_file().await?) };
        let bytes = tokio::time::timeout(LONGEST_UPLOAD, file_in(request, state, Bounds::DISTRICT)).await;
        Ok(Self(bytes.map_err(|_| ApiError::TooLong)??, place))
    }
}

async fn file_in(request: Request, state: &(impl Send + Sync), bounds: Bounds) -> Result<Bytes, ApiError> {
    let kind = request.headers().get(header::CONTENT_TYPE).and_then(|kind| kind.to_str().ok());
    if kind.map(|kind| kind.split(';').next().unwrap_or_default().trim()) != Some("application/octet-stream") {
        return Err(ApiError::Malformed {
            status: StatusCode::UNSUPPORTED_MEDIA_TYPE,
            detail: "A file is sent as `application/octet-stream`".to_owned(),
        });
    }
    Bytes::from_request(request, state).await.map_err(|rejection| {
        let too_large = rejection.status() == StatusCode::PAYLOAD_TOO_LARGE;
        let detail = if too_large {
            format!("The file is larger than {} MB: export only the rows and columns that matter", bounds.mb())
        } else {
            rejection.body_text()
        };
        ApiError::Malformed { status: rejection.status(), detail }
    })
}

/// The sheets that a printer holds.
#[derive(Clone, Copy, Debug, Default, Deserialize, ToSchema)]
#[serde(rename_all = "lowercase")]
pub enum PaperView {
    /// 210 x 297 mm.
    #[default]
    A4,
    /// 8.5 x 11 in.
    Letter,
}

impl From<PaperView> for Paper {
    fn from(view: PaperView) -> Self {
        match view {
            PaperView::A4 => Self::A4,
            PaperView::Letter => Self::Letter,
        }
    }
}

/// Which paper.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct PaperQuery {
    /// A4 by default.
    #[serde(default)]
    #[param(inline)]
    pub paper: PaperView,
}

/// Whether the director has agreed.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct Agreement {
    /// The digest of the preview that the director agreed to; absent for a preview.
    pub digest: Option<String>,
    /// The id that the page gave this import when the file was chosen: the same sent again is not one more.
    pub import: Option<Uuid>,
}

/// The media type of a workbook (ECMA-376).
const XLSX: &str = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet";

/// A file to keep.
pub struct Download {
    /// Its name.
    pub name: String,
    /// Its media type.
    pub kind: &'static str,
    /// What is in it.
    pub bytes: Vec<u8>,
}

impl Download {
    /// A table; its cells run nothing in a spreadsheet.
    #[must_use]
    pub fn csv(name: &str, rows: &[Vec<String>]) -> Self {
        let bytes = bright_row_documents::csv_out::write(rows);
        Self { name: format!("{name}.csv"), kind: "text/csv; charset=utf-8", bytes }
    }

    /// A sheet as CSV.
    #[must_use]
    pub fn table(name: &str, sheet: &Sheet) -> Self {
        let rows = sheet.rows.iter().map(|row| row.iter().map(Cell::words).collect());
        Self::csv(name, &[sheet.headings.clone()].into_iter().chain(rows).collect::<Vec<_>>())
    }

    /// A workbook; its cells run nothing either.
    ///
    /// # Errors
    /// [`ApiError::Internal`] if it cannot be written.
    pub fn xlsx(name: &str, sheets: &[Sheet]) -> Result<Self, ApiError> {
        let bytes = xlsx::write(sheets).map_err(|error| ApiError::Internal(error.to_string()))?;
        Ok(Self { name: format!("{name}.xlsx"), kind: XLSX, bytes })
    }

    /// Rows of words, the headings first, as a workbook of one sheet: what [`Self::csv`] writes as CSV.
    ///
    /// # Errors
    /// [`ApiError::Internal`] if it cannot be written.
    pub fn workbook(name: &str, sheet: &str, rows: Vec<Vec<String>>) -> Result<Self, ApiError> {
        let mut rows = rows.into_iter();
        let headings = rows.next().unwrap_or_default();
        // Words stay words: an inventory's 007 is no number.
        let rows = rows.map(|row| row.into_iter().map(Cell::Text).collect()).collect();
        Self::xlsx(name, &[Sheet { name: sheet.to_owned(), headings, rows }])
    }

    /// Pages.
    ///
    /// # Errors
    /// [`ApiError::Internal`] if one cannot be drawn.
    pub fn pdf(name: &str, pages: &[Drawing]) -> Result<Self, ApiError> {
        // `family-cards` is titled `Family cards`.
        let words = name.replace('-', " ");
        let mut letters = words.chars();
        let title: String = letters.next().into_iter().flat_map(char::to_uppercase).chain(letters).collect();
        let bytes = pdf(pages, &title).map_err(|error| ApiError::Internal(error.to_string()))?;
        Ok(Self { name: format!("{name}.pdf"), kind: "application/pdf", bytes })
    }
}

impl IntoResponse for Download {
    fn into_response(self) -> Response {
        let plain: String =
            self.name.chars().map(|c| if c.is_ascii_alphanumeric() || c == '.' { c } else { '-' }).collect();
        // What knows no other letters takes the plain name, everything else the one with its accents (RFC 6266, 4.3; RFC 8187).
        let whole = if self.name.is_ascii() {
            String::new()
        } else {
            format!("; filename*=UTF-8''{}", utf8_percent_encode(&self.name, NON_ALPHANUMERIC))
        };
        let attached = HeaderValue::from_str(&format!("attachment; filename=\"{plain}\"{whole}"))
            .unwrap_or(HeaderValue::from_static("attachment"));
        let kind = HeaderValue::from_static(self.kind);
        ([(header::CONTENT_TYPE, kind), (header::CONTENT_DISPOSITION, attached)], self.bytes).into_response()
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_name_keeps_its_accents_and_can_say_nothing_else() {
        let said = |name: &str| {
            let file = Download { name: name.to_owned(), kind: "text/csv", bytes: Vec::new() };
            let answer = file.into_response();
            answer.headers()[header::CONTENT_DISPOSITION].to_str().expect("text").to_owned()
        };
        assert_eq!(said("term.pdf"), "attachment; filename=\"term.pdf\"");
        assert_eq!(
            said("roster-Zoë & 美.csv"),
            "attachment; filename=\"roster-Zo-----.csv\"; filename*=UTF-8''roster%2DZo%C3%AB%20%26%20%E7%BE%8E%2Ecsv"
        );
        let hostile = said("a\"; filename=\"b\r\nSet-Cookie: x");
        assert!(!hostile.contains('\r') && hostile.matches('"').count() == 2, "{hostile}");
    }
}
