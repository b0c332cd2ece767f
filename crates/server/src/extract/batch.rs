//! Batches that devices send: read item by item, so that one that cannot be read does not hold up the others, and answered
//! item by item.

use serde::Serialize;
use serde::de::DeserializeOwned;
use serde_json::Value;
use serde_with::skip_serializing_none;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::error::{ApiError, FieldError};

/// The most items one request carries.
pub const MAX_BATCH: usize = 500;

/// Recorded now, known already, or refused.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "lowercase")]
pub enum RecordOutcome {
    /// Added.
    Stored,
    /// Was there already.
    Known,
    /// Not added; sending it again will not help.
    Refused,
}

/// What became of one item.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct RecordResult {
    /// The item's id; absent when it could not be read.
    id: Option<Uuid>,
    outcome: RecordOutcome,
    /// Why it was refused and what to do.
    reason: Option<String>,
}

/// What became of a batch.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct RecordAnswer {
    /// One for each item, in order.
    pub results: Vec<RecordResult>,
}

/// An item that cannot be taken: its id as far as that could be read, and why.
pub type Refused = (Option<Uuid>, String);

/// The items of a batch, each read by itself.
#[derive(Clone)]
pub struct Batch<T> {
    items: Vec<Result<T, Refused>>,
}

impl<T: DeserializeOwned> Batch<T> {
    /// Reads the items of a body.
    ///
    /// # Errors
    /// [`ApiError::Invalid`] for more than [`MAX_BATCH`] items; `field` names the list in the body.
    pub fn read(values: Vec<Value>, field: &str) -> Result<Self, ApiError> {
        if values.len() > MAX_BATCH {
            let most = format!("At most {MAX_BATCH} {field} at once; send the rest in another request.");
            return Err(ApiError::Invalid(vec![FieldError::new(field, most)]));
        }
        let read = |value: Value| {
            let id = value.get("id").and_then(Value::as_str).and_then(|id| id.parse().ok());
            serde_json::from_value(value).map_err(|error| (id, format!("This cannot be read: {error}.")))
        };
        Ok(Self { items: values.into_iter().map(read).collect() })
    }
}

impl<T> Batch<T> {
    /// What the items come to; those that cannot be say why.
    pub fn check<U>(self, check: impl Fn(T) -> Result<U, Refused>) -> Batch<U> {
        Batch { items: self.items.into_iter().map(|item| item.and_then(&check)).collect() }
    }

    /// The items that can be, in order.
    #[must_use]
    pub fn good(&self) -> Vec<T>
    where
        T: Clone,
    {
        self.items.iter().filter_map(|item| item.as_ref().ok().cloned()).collect()
    }

    /// The answer, from the id of each good item and what became of it, in their order: why it was refused, or whether it is
    /// stored now.
    pub fn answer(self, outcomes: impl IntoIterator<Item = (Uuid, Result<RecordOutcome, String>)>) -> RecordAnswer {
        let mut outcomes = outcomes.into_iter();
        let result = |item: Result<T, Refused>| match item {
            Err((id, reason)) => RecordResult { id, outcome: RecordOutcome::Refused, reason: Some(reason) },
            Ok(_) => match outcomes.next() {
                Some((id, Ok(outcome))) => RecordResult { id: Some(id), outcome, reason: None },
                Some((id, Err(reason))) => {
                    RecordResult { id: Some(id), outcome: RecordOutcome::Refused, reason: Some(reason) }
                }
                // Every good item has an outcome.
                None => RecordResult { id: None, outcome: RecordOutcome::Known, reason: None },
            },
        };
        RecordAnswer { results: self.items.into_iter().map(result).collect() }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use serde_json::json;

    #[test]
    fn one_that_cannot_be_read_does_not_hold_up_the_others_and_every_item_is_answered_in_order() {
        let id = Uuid::from_u128(7);
        let batch = Batch::<u8>::read(vec![json!(1), json!({ "id": id }), json!(300), json!(2)], "numbers");
        let batch = batch.unwrap_or_else(|_| panic!("four are not too many"));
        let batch = batch.check(|number| if number == 2 { Err((None, "no two".to_owned())) } else { Ok(number) });
        assert_eq!(batch.good(), [1]);
        let answer = batch.answer([(Uuid::nil(), Ok(RecordOutcome::Stored))]);
        let outcomes: Vec<_> = answer.results.iter().map(|result| (result.id, result.outcome)).collect();
        let refused = RecordOutcome::Refused;
        assert_eq!(
            outcomes,
            [(Some(Uuid::nil()), RecordOutcome::Stored), (Some(id), refused), (None, refused), (None, refused)]
        );
    }

    #[test]
    fn too_many_are_refused_as_a_whole() {
        assert!(Batch::<u8>::read(vec![json!(1); MAX_BATCH], "numbers").is_ok());
        assert!(Batch::<u8>::read(vec![json!(1); MAX_BATCH + 1], "numbers").is_err());
    }
}
