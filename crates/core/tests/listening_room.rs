//! Nothing is allocated while somebody listens: a page's audio thread must never wait for it. Alone in this file, because other
//! tests beside it would allocate.

use bright_row_core::craft::instrument::Instrument;
use bright_row_core::listening::string::{Act, StringSound, Touch};
use bright_row_core::listening::{Listener, Range, Sounds};
use peak_alloc::PeakAlloc;

#[global_allocator]
static ALLOCATED: PeakAlloc = PeakAlloc;

#[test]
fn listening_takes_no_room_after_its_start() {
    let samples = StringSound::of(Instrument::Cello, 98.0, Touch::Open, Act::PLUCK, 1).render(48_000.0, 2.0);
    let mut listener = Listener::new(48_000.0, Range::all()).expect("a usual rate");
    let mut sounds = Sounds::new(None);
    let before = ALLOCATED.current_usage();
    ALLOCATED.reset_peak_usage();
    let mut moments = 0;
    for piece in samples.chunks(128) {
        for heard in listener.push(piece) {
            moments += 1;
            sounds.hear(heard);
        }
    }
    let peak = ALLOCATED.peak_usage();
    assert_eq!(moments, 100);
    assert_eq!(peak, before, "bytes more at some moment");
}
