//! A tune for players: a standard MIDI file (format 1), a track for each part.

use bright_row_core::craft::tune::Tune;
use midly::num::{u4, u7, u15, u24, u28};
use midly::{Format, Header, MetaMessage, MidiMessage, Smf, Timing, Track, TrackEvent, TrackEventKind};

use super::{Part, program, spoken};

/// Ticks of a quarter; of an eighth half as many.
const TICKS: u16 = 480;
/// How hard notes are played.
const VELOCITY: u8 = 80;
/// How much of a note sounds before the next begins, in sixteenths of it: the same note twice is heard as two.
const SOUNDS: u32 = 15;

/// The tune as a MIDI file of these parts.
#[must_use]
pub fn file(tune: &Tune, parts: &[Part]) -> Vec<u8> {
    let header = Header::new(Format::Parallel, Timing::Metrical(u15::new(TICKS)));
    let mut smf = Smf::new(header);
    smf.tracks.push(heading(tune));
    let voices = (0_u8..).zip(parts);
    smf.tracks.extend(voices.map(|(channel, part)| track(tune, u4::new(channel.min(15)), part)));
    let mut bytes = Vec::new();
    smf.write(&mut bytes).expect("a vector takes everything");
    bytes
}

fn meta(message: MetaMessage<'_>) -> TrackEvent<'_> {
    TrackEvent { delta: u28::new(0), kind: TrackEventKind::Meta(message) }
}

/// Name, meter, key and tempo.
fn heading(tune: &Tune) -> Track<'_> {
    let quarter = tune.eighth_seconds() * 2_000_000.0;
    // At 30 beats a minute it has 21 bits.
    #[allow(clippy::cast_possible_truncation, clippy::cast_sign_loss, clippy::as_conversions)]
    let quarter = u24::new(quarter.round() as u32);
    let unit = if tune.meter.unit == 8 { 3 } else { 2 };
    vec![
        meta(MetaMessage::TrackName(tune.name.as_bytes())),
        meta(MetaMessage::TimeSignature(tune.meter.beats, unit, 12 * tune.meter.beat_eighths(), 8)),
        meta(MetaMessage::KeySignature(tune.key.sharps, tune.key.minor)),
        meta(MetaMessage::Tempo(quarter)),
        meta(MetaMessage::EndOfTrack),
    ]
}

fn track<'a>(tune: &Tune, channel: u4, (instrument, part): &Part) -> Track<'a> {
    let event =
        |delta: u32, message| TrackEvent { delta: u28::new(delta), kind: TrackEventKind::Midi { channel, message } };
    let mut track = vec![
        meta(MetaMessage::TrackName(spoken(*instrument).as_bytes())),
        event(0, MidiMessage::ProgramChange { program: u7::new(program(*instrument)) }),
    ];
    let mut pause = 0;
    for (note, placed) in tune.notes.iter().zip(&part.notes) {
        let ticks = u32::from(note.eighths) * u32::from(TICKS / 2);
        let Some(midi) = placed.fingering.map(|way| way.midi).or(placed.midi) else {
            pause += ticks;
            continue;
        };
        let (key, sounds) = (u7::new(midi), ticks * SOUNDS / 16);
        track.push(event(pause, MidiMessage::NoteOn { key, vel: u7::new(VELOCITY) }));
        track.push(event(sounds, MidiMessage::NoteOff { key, vel: u7::new(0) }));
        pause = ticks - sounds;
    }
    let mut end = meta(MetaMessage::EndOfTrack);
    end.delta = u28::new(pause);
    track.push(end);
    track
}
