# What other programs make of the files, and back.
python_with_venv
for command in qpdf zbarimg soffice pdffonts; do command -v "$command" >/dev/null || apt_install qpdf zbar-tools libreoffice-calc-nogui poppler-utils; done
OTHERS=$TARGET/interop
if [ ! -x "$OTHERS/bin/openapi-python-client" ]; then
  step "Making a place for the other programs" python3 -m venv "$OTHERS"
  step "Installing them" "$OTHERS/bin/pip" install --quiet openapi-spec-validator==0.9.0 openapi-python-client==0.29.1 music21==10.5.1 partitura==1.9.0 \
    verovio==6.4.1 icalendar==7.3.2 ics==0.7.3 vobject==0.9.9 recurring-ical-events==3.8.2 pandas==3.1.1 openpyxl pdfplumber==0.11.10
fi
server_built
. scripts/bench/place.sh
demo_school
mkdir "$PLACE/runs"
"$OTHERS/bin/python" scripts/bench/interop.py "$url" "$PLACE/runs"
