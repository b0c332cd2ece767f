//! The fields of a body, read one by one, so that everything that is wrong is said at once.

use bright_row_core::text::{Text, TextFault};

use crate::error::{ApiError, FieldError};

/// Collects what is wrong with the fields of a body.
#[derive(Default)]
pub struct Fields {
    prefix: String,
    errors: Vec<FieldError>,
}

impl Fields {
    /// Further fields are named behind this prefix, `children.3.`.
    pub fn within(&mut self, prefix: impl Into<String>) -> &mut Self {
        self.prefix = prefix.into();
        self
    }

    /// Something is wrong with a field.
    pub fn fault(&mut self, field: &str, detail: impl Into<String>) {
        self.errors.push(FieldError::new(&format!("{}{field}", self.prefix), detail));
    }

    /// Something is wrong with a field unless it `holds`.
    pub fn require(&mut self, holds: bool, field: &str, detail: impl Into<String>) {
        if !holds {
            self.fault(field, detail);
        }
    }

    /// A [`Text::name`].
    pub fn name<const MAX: usize>(&mut self, field: &str, raw: &str) -> String {
        self.text(field, Text::<MAX>::name(raw))
    }

    /// A [`Text::line`].
    pub fn line<const MAX: usize>(&mut self, field: &str, raw: &str) -> String {
        self.text(field, Text::<MAX>::line(raw))
    }

    /// A [`Text::note`].
    pub fn note<const MAX: usize>(&mut self, field: &str, raw: &str) -> String {
        self.text(field, Text::<MAX>::note(raw))
    }

    fn text<const MAX: usize>(&mut self, field: &str, text: Result<Text<MAX>, TextFault>) -> String {
        text.unwrap_or_else(|fault| {
            self.fault(field, fault.to_string());
            Text::default()
        })
        .into_string()
    }

    /// Everything that is wrong.
    #[must_use]
    pub fn faults(self) -> Vec<FieldError> {
        self.errors
    }

    /// Ends the reading.
    ///
    /// # Errors
    /// [`ApiError::Invalid`] with everything that is wrong.
    pub fn finish(self) -> Result<(), ApiError> {
        if self.errors.is_empty() { Ok(()) } else { Err(ApiError::Invalid(self.errors)) }
    }
}
