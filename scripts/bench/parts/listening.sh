# Pitches beside two other methods on the same sounds.
python_with_venv
# Two commands of their own, and a General MIDI font of instruments that were recorded.
command -v fluidsynth >/dev/null && [ -f /usr/share/sounds/sf2/TimGM6mb.sf2 ] || apt_install fluidsynth timgm6mb-soundfont
OTHERS=$TARGET/listening
if [ ! -x "$OTHERS/bin/aubio" ]; then
  step "Making a place for the other methods" python3 -m venv "$OTHERS"
  # aubio is built here, and wants the numbers' headers first.
  step "Installing librosa and aubio" "$OTHERS/bin/pip" install --quiet librosa==0.11.0 soundfile mido numpy
  step "Building aubio" "$OTHERS/bin/pip" install --quiet aubio==0.4.9
fi
step "Building what listens" cargo build --release --workspace --locked --example bench_listening
SOUNDS=$(mktemp -d)
trap 'rm -rf "$SOUNDS"' EXIT
"$TARGET/release/examples/bench_listening" make "$SOUNDS"
"$OTHERS/bin/python" scripts/bench/listening.py "$SOUNDS" "$TARGET/release/examples/bench_listening" /usr/share/sounds/sf2/TimGM6mb.sf2
