//! Nothing is allocated while somebody listens: a page's audio thread must never wait for it. Alone in this file, because other
//! tests beside it would allocate.

use bright_row_core::craft::instrument::Instrument;
use bright_row_core::listening::string::{Act, StringSound, Touch};
use bright_row_core::listening::{Listener, Range, Run, RunNote, Sounds, Tuner};
use peak_alloc::PeakAlloc;

#[global_allocator]
static ALLOCATED: PeakAlloc = PeakAlloc;

/// Bytes that somebody who listens takes at some moment more than before, and how many moments there were.
fn more_bytes(samples: &[f32], rate: f64) -> (usize, usize) {
    let listener = Listener::new(rate, Range::of(Instrument::Cello)).expect("a usual rate");
    let mut listener = listener.with_open([65.41, 98.0, 146.83, 220.0]);
    let mut sounds = Sounds::new(None).with_open([65.41, 98.0, 146.83, 220.0]);
    let mut run = Run::new(&[RunNote { hz: 98.0, finger: 0 }, RunNote { hz: 110.0, finger: 1 }], 60.0);
    let mut tuner = Tuner::new([65.41, 98.0, 146.83, 220.0]);
    let before = ALLOCATED.current_usage();
    ALLOCATED.reset_peak_usage();
    let mut moments = 0;
    for piece in samples.chunks(128) {
        for heard in listener.push(piece) {
            moments += 1;
            sounds.hear(heard);
            run.hear(&heard);
            tuner.hear(&heard);
            std::hint::black_box(run.pattern());
        }
    }
    sounds.end();
    (ALLOCATED.peak_usage() - before, moments)
}

#[test]
fn listening_takes_no_room_after_its_start() {
    let pluck = StringSound::of(Instrument::Cello, 98.0, Touch::Open, Act::PLUCK, 1).render(48_000.0, 2.0);
    assert_eq!(more_bytes(&pluck, 48_000.0), (0, 100));
    // As long as a sound is kept together, and longer.
    let stroke = StringSound::of(Instrument::Cello, 98.0, Touch::Open, Act::BOW, 1).render(8_000.0, 21.0);
    assert_eq!(more_bytes(&stroke, 8_000.0), (0, 1_050));
}
