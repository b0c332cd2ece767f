//! One file a table, as it stands in the database. Entities never leave this crate.
#![allow(missing_docs)]

pub mod account;
pub mod child;
pub mod class;
pub mod day_off;
pub mod mark;
pub mod membership;
pub mod program;
pub mod seat;
pub mod sign_in_pause;
pub mod standing;
pub mod web_session;

use sea_orm::{EntityTrait, IdenStatic, Iterable};

/// Every table with its columns, as this build expects them.
pub fn expected_columns() -> Vec<(String, String)> {
    fn of<E: EntityTrait>(entity: E) -> Vec<(String, String)> {
        let table = entity.table_name().to_owned();
        E::Column::iter().map(|column| (table.clone(), column.as_str().to_owned())).collect()
    }
    [
        of(account::Entity),
        of(child::Entity),
        of(class::Entity),
        of(day_off::Entity),
        of(mark::Entity),
        of(membership::Entity),
        of(program::Entity),
        of(seat::Entity),
        of(sign_in_pause::Entity),
        of(standing::Entity),
        of(web_session::Entity),
    ]
    .concat()
}
