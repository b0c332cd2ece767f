//! The rules of Bright Row in the page. Thin: a question comes in as JSON, is handed to [`bright_row_core`], and its answer
//! goes out as JSON. There is no rule here.
//!
//! The page and this module share one piece of memory. The page asks for [`room_for`] its question, writes it there, names
//! the [`call`], and reads the answer at [`answer`].

// A file that answers some of the calls has no use for the types of the others.
#![cfg_attr(not(all(feature = "rules", feature = "figures", feature = "listening")), allow(dead_code, unused_imports))]

mod calls;
#[cfg(feature = "schema")]
mod description;
#[cfg(feature = "listening")]
pub mod ear;
mod shapes;
#[cfg(feature = "listening")]
pub mod simulated;
mod tree;

use std::cell::RefCell;

pub use calls::{Fault, NAMES, ask};
#[cfg(feature = "schema")]
pub use description::description;

/// The longest question or answer, in bytes: a class of 300 children is far below.
pub const MAX_BYTES: usize = 64 << 20;

thread_local! {
    /// The question, and after a call its answer.
    static MEMORY: RefCell<Vec<u8>> = const { RefCell::new(Vec::new()) };
}

/// Makes room for a question of so many bytes and says where to write it; null for one longer than [`MAX_BYTES`].
#[allow(unsafe_code, reason = "the page finds exports by their plain names; no memory is read by an address")]
#[unsafe(no_mangle)]
pub extern "C" fn room_for(bytes: usize) -> *mut u8 {
    if bytes > MAX_BYTES {
        return std::ptr::null_mut();
    }
    MEMORY.with_borrow_mut(|memory| {
        memory.clear();
        memory.resize(bytes, 0);
        memory.as_mut_ptr()
    })
}

/// Answers the question that was written, and says how many bytes the answer has.
///
/// A question is `["planRound", ...]`: the name of a call and what it takes. An answer is `[true, ...]`, or `[false, "why"]`
/// where the question cannot be read.
#[allow(unsafe_code, reason = "the page finds exports by their plain names; no memory is read by an address")]
#[unsafe(no_mangle)]
pub extern "C" fn call() -> usize {
    let question = MEMORY.take();
    let answer = ask(&question);
    let bytes = answer.len();
    MEMORY.set(answer);
    bytes
}

/// Where the answer is.
#[allow(unsafe_code, reason = "the page finds exports by their plain names; no memory is read by an address")]
#[unsafe(no_mangle)]
pub extern "C" fn answer() -> *const u8 {
    MEMORY.with_borrow(Vec::as_ptr)
}
