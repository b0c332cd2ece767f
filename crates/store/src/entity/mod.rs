//! One file a table, as it stands in the database. Entities never leave this crate.
#![allow(missing_docs, clippy::struct_field_names)]

pub mod accommodation;
pub mod account;
pub mod asset;
pub mod audit;
pub mod backup_note;
pub mod calendar_address;
pub mod child;
pub mod child_choice;
pub mod child_home;
pub mod class;
pub mod class_choice;
pub mod class_member;
pub mod day_off;
pub mod done_once;
pub mod family_answer;
pub mod heading;
pub mod invitation;
pub mod invitation_class;
pub mod known_device;
pub mod lesson;
pub mod loan;
pub mod measuring;
pub mod membership;
pub mod observation;
pub mod pain_answer;
pub mod passkey;
pub mod password_link;
pub mod played;
pub mod program;
pub mod recovery_code;
pub mod retention;
pub mod roster_change;
pub mod roster_import;
pub mod round_event;
pub mod round_event_child;
pub mod seat;
pub mod setup_found;
pub mod short_day;
pub mod sign_in_pause;
pub mod small_group;
pub mod small_group_child;
pub mod stage_opened;
pub mod standing;
pub mod stock;
pub mod tape_event;
pub mod tape_record;
pub mod web_session;

use sea_orm::{EntityTrait, IdenStatic, Iterable};

/// Every table with its columns, as this build expects them.
pub fn expected_columns() -> Vec<(String, String)> {
    fn of<E: EntityTrait>(entity: E) -> Vec<(String, String)> {
        let table = entity.table_name().to_owned();
        E::Column::iter().map(|column| (table.clone(), column.as_str().to_owned())).collect()
    }
    [
        of(accommodation::Entity),
        of(account::Entity),
        of(asset::Entity),
        of(audit::Entity),
        of(backup_note::Entity),
        of(calendar_address::Entity),
        of(child::Entity),
        of(child_choice::Entity),
        of(class::Entity),
        of(class_choice::Entity),
        of(class_member::Entity),
        of(day_off::Entity),
        of(done_once::Entity),
        of(heading::Entity),
        of(invitation::Entity),
        of(invitation_class::Entity),
        of(known_device::Entity),
        of(lesson::Entity),
        of(loan::Entity),
        of(measuring::Entity),
        of(membership::Entity),
        of(observation::Entity),
        of(child_home::Entity),
        of(family_answer::Entity),
        of(pain_answer::Entity),
        of(passkey::Entity),
        of(password_link::Entity),
        of(played::Entity),
        of(program::Entity),
        of(recovery_code::Entity),
        of(retention::Entity),
        of(roster_change::Entity),
        of(roster_import::Entity),
        of(round_event::Entity),
        of(round_event_child::Entity),
        of(seat::Entity),
        of(setup_found::Entity),
        of(short_day::Entity),
        of(sign_in_pause::Entity),
        of(small_group::Entity),
        of(small_group_child::Entity),
        of(stage_opened::Entity),
        of(standing::Entity),
        of(stock::Entity),
        of(tape_event::Entity),
        of(tape_record::Entity),
        of(web_session::Entity),
    ]
    .concat()
}
