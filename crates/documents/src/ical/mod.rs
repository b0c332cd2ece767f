//! iCalendar (RFC 5545): days off that come in, meetings and what is due that go out. All of it whole days: a class meets
//! on a day, when in it is the school's business.

mod days_off;
mod entry;
mod lines;
mod out;
mod repeating;

pub use days_off::{DaysOff, LeftOut, Span, Why, days_off};
pub use lines::{LARGEST_CALENDAR, NotACalendar};
pub use out::{Entry, calendar};
