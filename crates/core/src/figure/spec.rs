//! A drawing as it is written down: a view, the numbers that are not the usual ones, and what to stress.

use serde::{Deserialize, Serialize};

use super::parameters::{Range, Setting, Settings};
use super::part::Part;
use super::shape::Figure;
use super::view::View;
use crate::instrument::Instrument;

/// More than any view has.
const MAX_SETTINGS: usize = 48;

/// A view with its numbers.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase", deny_unknown_fields)]
pub struct FigureSpec {
    /// What is seen from where.
    pub view: View,
    /// The numbers that are not the usual ones, by name.
    #[serde(default, skip_serializing_if = "Settings::is_empty")]
    #[cfg_attr(feature = "schema", schema(required = false))]
    pub set: Settings,
    /// What to stress.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    #[cfg_attr(feature = "schema", schema(required = false))]
    pub amiss: Vec<Part>,
}

/// Something in a drawing that cannot be.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct FigureFault {
    /// The parameter's name, or `amiss`.
    pub field: String,
    /// What is wrong and what to do.
    pub message: String,
}

impl FigureSpec {
    /// A view with its usual numbers.
    #[must_use]
    pub fn usual(view: View) -> Self {
        Self { view, set: Settings::new(), amiss: Vec::new() }
    }

    /// The same with these numbers laid over its own.
    #[must_use]
    pub fn with(&self, set: &Settings) -> Self {
        let mut spec = self.clone();
        spec.set.extend(set.iter().map(|(name, to)| (name.clone(), to.clone())));
        spec
    }

    /// The drawing.
    #[must_use]
    pub fn draw(&self, instrument: Instrument) -> Figure {
        self.view.draw(instrument, &self.set, &self.amiss)
    }

    /// What a parameter comes to.
    #[must_use]
    pub fn value(&self, instrument: Instrument, name: &str) -> Option<Setting> {
        let parameter = self.view.parameter(name)?;
        Some(match parameter.range {
            Range::Number { .. } => Setting::Number(parameter.number(instrument, &self.set)),
            Range::Word { .. } => Setting::Word(parameter.word(instrument, &self.set).to_owned()),
        })
    }

    /// Every parameter of the view with what it comes to.
    #[must_use]
    pub fn settings(&self, instrument: Instrument) -> Settings {
        let names = self.view.parameters().iter().map(|parameter| parameter.name);
        names.filter_map(|name| Some((name.to_owned(), self.value(instrument, name)?))).collect()
    }

    /// Everything of it that cannot be.
    #[must_use]
    pub fn faults(&self, instrument: Instrument) -> Vec<FigureFault> {
        let mut faults = Vec::new();
        if self.set.len() + self.amiss.len() > MAX_SETTINGS {
            let message = format!("at most {MAX_SETTINGS} numbers and parts are set");
            return vec![FigureFault { field: "set".to_owned(), message }];
        }
        for (name, to) in &self.set {
            let view = self.view.word();
            let message = match self.view.parameter(name) {
                None => {
                    let name: String = name.chars().take(40).collect();
                    let known: Vec<&str> = self.view.parameters().iter().map(|one| one.name).collect();
                    Some(format!("`{view}` has no `{name}`; it has {}", known.join(", ")))
                }
                Some(parameter) => parameter.fault(to),
            };
            faults.extend(message.map(|message| FigureFault { field: name.chars().take(40).collect(), message }));
        }
        if !self.amiss.is_empty() {
            let parts = self.view.parts(instrument, &self.set);
            for part in self.amiss.iter().filter(|part| !parts.contains(part)) {
                let known: Vec<&str> = parts.iter().map(|part| part.word()).collect();
                let message = format!("`{}` cannot be stressed here; {} can", part.word(), known.join(", "));
                faults.push(FigureFault { field: "amiss".to_owned(), message });
            }
        }
        faults
    }
}
