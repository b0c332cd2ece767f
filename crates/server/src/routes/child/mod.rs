//! One child: its ladders, what comes next, its history, causes, and what counts for it alone.

pub mod card;
mod cause_views;
pub mod causes;
pub mod context;
pub mod context_views;
pub mod history;
pub mod page;
pub mod record;
