"""What other programs make of Bright Row's files, and it of theirs, in one run.

interop.py URL FOLDER: the address of a server over the demo's school, a folder for what is made on the way. Prints a table; exits with
1 where something is not as it should be.
"""
import csv, glob, io, json, os, random, re, subprocess, sys, unicodedata, urllib.error, urllib.parse, urllib.request, warnings, zoneinfo
from datetime import date, datetime, time, timedelta
from http.cookiejar import CookieJar

url, folder = sys.argv[1:3]
ROOT = os.path.dirname(os.path.dirname(os.path.dirname(os.path.abspath(__file__))))
EMAIL, PASSWORD = "director@demo.example", "bright-row-demo"
warnings.filterwarnings("ignore")
rows = []
opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(CookieJar()))


def say(what, by, good, of, note=""):
    rows.append((what, by, good, of))
    print(f"{what:<52} {by:<28} {good:>5} of {of:<5} {'' if good == of else 'MISSED'} {note}".rstrip(), flush=True)


def ask(path, body=None, kind="application/json", method=None):
    request = urllib.request.Request(url + path, data=body, method=method, headers={"content-type": kind} if body is not None else {})
    try:
        with opener.open(request) as answer:
            return answer.read()
    except urllib.error.HTTPError as error:
        raise SystemExit(f"{path}: {error.code} {error.read()[:300]}")


def kept(name, data):
    path = os.path.join(folder, name)
    with open(path, "wb") as file:
        file.write(data)
    return path


def works(call):
    """Whether a call goes through; what it answers."""
    try:
        return True, call()
    except Exception as error:  # another program's own kind of error
        return False, f"{type(error).__name__}: {error}"[:160]


def run(*command):
    return subprocess.run(command, capture_output=True, text=True)


PROGRAM = json.loads(ask("/api/session", json.dumps({"email": EMAIL, "password": PASSWORD}).encode()))["programs"][0]["id"]
CLASSES = [one["id"] for one in json.loads(ask("/api/classes"))]
# The fullest of them.
ROSTER, CLASS = max(((json.loads(ask(f"/api/classes/{one}/roster"))["children"], one) for one in CLASSES), key=lambda pair: len(pair[0]))
OF = f"/api/classes/{CLASS}"

CHILD = ROSTER[0]["id"]


def openapi():
    from openapi_spec_validator import validate
    spec = os.path.join(ROOT, "docs", "openapi.json")
    good, error = works(lambda: validate(json.load(open(spec))))
    say("docs/openapi.json is valid", "openapi-spec-validator", int(good), 1, "" if good else error)
    made = os.path.join(folder, "client")
    tool = os.path.join(os.path.dirname(sys.executable), "openapi-python-client")
    ran = run(tool, "generate", "--path", spec, "--output-path", made, "--overwrite", "--meta", "none")
    say("a client is made of it", "openapi-python-client", int(ran.returncode == 0 and "WARNING" not in ran.stdout), 1, ran.stdout[-200:].replace("\n", " ") if ran.returncode else "")
    if ran.returncode == 0:
        uses_client(made)


def uses_client(made):
    """Signs in, reads a room, looks at a roster's file and downloads a PDF with what the generator made."""
    sys.path.insert(0, os.path.dirname(made))
    from importlib import import_module
    client = import_module("client").Client(base_url=url)
    models, types = import_module("client.models"), import_module("client.types")

    def api(name, **given):
        module = next(glob.iglob(os.path.join(made, "api", "*", f"{name}.py")))
        part = import_module("client." + os.path.relpath(module, made)[:-3].replace(os.sep, "."))
        return part.sync_detailed(client=client, **given)

    steps = [
        ("signs in", lambda: api("sign_in", body=models.SignIn(email=EMAIL, password=PASSWORD))),
        ("reads a room", lambda: api("room", class_=CLASS)),
        ("looks at a roster's file", lambda: api("take_roster_file", class_=CLASS, body=types.File(payload=io.BytesIO(b"Name,Instrument\nAda King,viola\n")))),
        ("downloads a PDF", lambda: api("order_list", class_=CLASS)),
    ]
    for what, step in steps:
        good, answer = works(step)
        good = good and answer.status_code == 200
        say(f"its client {what}", "openapi-python-client", int(good), 1, "" if good else str(answer)[:200])


# Notes.
STEPS = {"C": 0, "D": 2, "E": 4, "F": 5, "G": 7, "A": 9, "B": 11}
KEYS = {"C": 0, "G": 1, "D": 2, "A": 3, "E": 4, "F": -1, "Bb": -2, "Eb": -3}


def scale(key):
    """The names of the notes of a major key."""
    order = "FCGDAEB"
    sharps = KEYS[key]
    bent = order[:sharps] if sharps > 0 else order[::-1][:-sharps]
    return {step + ("#" if sharps > 0 else "-") if step in bent else step for step in STEPS}


def made_tunes(many):
    """Tunes of the notes of their key with some of others, in every key and meter."""
    rng = random.Random(7)
    for number in range(many):
        key, meter = list(KEYS)[number % len(KEYS)], ["2/4", "3/4", "4/4", "6/8"][number % 4]
        eighths = {"2/4": 4, "3/4": 6, "4/4": 8, "6/8": 6}[meter]
        bars = []
        for _ in range(rng.randint(2, 8)):
            left, bar = eighths, []
            while left:
                long = rng.choice([one for one in (1, 2, 3, 4) if one <= left])
                name = rng.choice(sorted(scale(key))).replace("-", "b") + str(rng.choice([4, 4, 5]))
                bar.append("-" + f":{long}" if rng.random() < 0.1 else f"{name}:{long}")
                left -= long
            bars.append(" ".join(bar))
        notes = " | ".join(bars)
        if re.search(r"[A-G]", notes):
            yield {"notes": notes, "name": f"Made {number}", "key": key, "meter": meter}


def music():
    import music21, partitura, verovio
    tunes = [{"tune": tune["id"]} for tune in json.loads(ask(f"{OF}/notes"))["tunes"]] + list(made_tunes(50))
    read = {"music21": 0, "partitura": 0, "verovio": 0}
    same = {"music21": 0, "partitura": 0}
    spelled, spelled_of, first = 0, 0, {}
    verovio.enableLog(verovio.LOG_OFF)
    for query in tunes:
        words = urllib.parse.urlencode(query)
        wanted = [note.get("note") for note in json.loads(ask(f"{OF}/notes?{words}"))["notes"]]
        classes = [pitch_class(name) for name in wanted if name]
        path = kept("tune.musicxml", ask(f"{OF}/notes.musicxml?{words}"))
        good, score = works(lambda: music21.converter.parse(path, forceSource=True))
        read["music21"] += good
        if good:
            parts = [[note.pitch for note in part.stripTies().recurse().notes] for part in score.parts]
            same["music21"] += len(parts) == 4 and all([pitch.pitchClass for pitch in part] == classes for part in parts)
            names = scale(query["key"]) if "key" in query else None
            for pitch in (pitch for part in parts for pitch in part if names):
                spelled_of += 1
                spelled += pitch.name in names
        else:
            first.setdefault("music21", score)
        good, score = works(lambda: partitura.load_musicxml(path))
        read["partitura"] += good
        if good:
            parts = [[note.midi_pitch % 12 for note in part.notes_tied] for part in score.parts]
            same["partitura"] += len(parts) == 4 and all(part == classes for part in parts)
        else:
            first.setdefault("partitura", score)
        kit = verovio.toolkit()
        read["verovio"] += bool(kit.loadFile(path)) and kit.getPageCount() > 0 and "<svg" in kit.renderToSVG(1)
    for by, good in read.items():
        say("tunes are read (MusicXML)", by, good, len(tunes), first.get(by, ""))
    for by, good in same.items():
        say("their notes are the tune's, in four parts", by, good, len(tunes))
    say("notes of the key are spelled as the key has them", "music21", spelled, spelled_of)


def other_forms():
    """Packed scores, MIDI and sound, of the tunes that ship; and tunes that another program writes, read in."""
    import music21, wave
    tunes = [tune["id"] for tune in json.loads(ask(f"{OF}/notes"))["tunes"]]
    packed = played = heard = back = 0
    for tune in tunes:
        words = urllib.parse.urlencode({"tune": tune})
        notes = json.loads(ask(f"{OF}/notes?{words}"))["notes"]
        classes = [pitch_class(note["note"]) for note in notes if note.get("note")]
        quarters = sum(note["eighths"] for note in notes) / 2
        for ending in ("mxl", "mid"):
            path = kept(f"tune.{ending}", ask(f"{OF}/notes.{ending}?{words}"))
            good, score = works(lambda: music21.converter.parse(path, forceSource=True))
            same = good and [[note.pitch.pitchClass for note in part.stripTies().recurse().notes] for part in score.parts] == [classes] * 4
            packed += same and ending == "mxl"
            played += same and ending == "mid"
        with wave.open(kept("tune.wav", ask(f"{OF}/notes.wav?{words}&part=cello"))) as sound:
            # Eighty beats a minute where a tune says no tempo; a moment of silence before it.
            beats = quarters if not is_in_six(tune) else quarters / 1.5
            heard += abs(sound.getnframes() / sound.getframerate() - 0.2 - beats * 60 / 80) < 0.05
    say("packed scores have the tune's notes (.mxl)", "music21", packed, len(tunes))
    say("MIDI has the tune's notes, in four tracks", "music21", played, len(tunes))
    say("sound lasts as long as the tune (WAV)", "Python's wave", heard, len(tunes))
    made = list(made_tunes(50))
    for query in made:
        words = urllib.parse.urlencode(query)
        source = kept("ours.musicxml", ask(f"{OF}/notes.musicxml?{words}&part=violin"))
        score = music21.converter.parse(source, forceSource=True)
        theirs = score.write("musicxml", fp=os.path.join(folder, "theirs.musicxml"))
        read = json.loads(ask(f"{OF}/notes/file", open(theirs, "rb").read(), "application/octet-stream"))
        wanted = [(note.pitch.midi, note.quarterLength) for note in score.parts[0].stripTies().recurse().notes]
        back += heard_notes(read["notes"]) == wanted and read["key"] == query["key"] and read["meter"] == query["meter"]
    say("tunes that another program wrote are read in", "music21", back, len(made))


def is_in_six(tune):
    return b"<beat-type>8</beat-type>" in ask(f"{OF}/notes.musicxml?tune={tune}")


def heard_notes(text):
    """The MIDI numbers and quarters of a tune's text, without its rests."""
    sounding = []
    for word in text.replace("|", " ").split():
        pitch, _, eighths = word.partition(":")
        quarters = int(eighths or 2) / 2
        if pitch == "_":
            if sounding[-1]:
                sounding[-1] = (sounding[-1][0], sounding[-1][1] + quarters)
        elif pitch == "-":
            sounding.append(None)
        else:
            bend = pitch.count("#") - pitch[1:].count("b")
            sounding.append(((int(pitch[-1]) + 1) * 12 + STEPS[pitch[0]] + bend, quarters))
    return [pair for pair in sounding if pair]


def pitch_class(name):
    bend = {"#": 1, "b": -1}.get(name[1], 0)
    return (STEPS[name[0]] + bend) % 12


# Calendars.
def calendars_out():
    import icalendar, ics, vobject
    for what, path in (("meetings (calendar.ics)", f"{OF}/calendar.ics"), ("practice (practice.ics)", f"{OF}/children/{CHILD}/practice.ics")):
        text = ask(path).decode()
        days = sorted(re.findall(r"^DTSTART;VALUE=DATE:(\d+)", text, re.M))
        readers = {
            "icalendar": lambda: [event.decoded("dtstart").strftime("%Y%m%d") for event in icalendar.Calendar.from_ical(text).walk("VEVENT")],
            "ics": lambda: [event.begin.strftime("%Y%m%d") for event in ics.Calendar(text).events],
            "vobject": lambda: [event.dtstart.value.strftime("%Y%m%d") for event in vobject.readOne(text).vevent_list],
        }
        for by, call in readers.items():
            good, found = works(call)
            say(f"days of {what}", by, len(set(found) & set(days)) if good else 0, len(set(days)), "" if good else found)


def contacts():
    import vobject
    text = ask(f"/api/programs/{PROGRAM}/people.vcf").decode()
    addresses = set(re.findall(r"^EMAIL;TYPE=INTERNET:(\S+)", text, re.M))
    good, found = works(lambda: {card.email.value for card in vobject.readComponents(text) if card.fn.value})
    say("addresses of contacts (people.vcf)", "vobject", len(found & addresses) if good else 0, len(addresses), "" if good else found)


def whole(start, end, zone):
    """The first and last of the days between two midnights of the zone, or of the entry's own; None for a time of day."""
    if not isinstance(start, datetime):
        return start, max(start, end - timedelta(days=1))
    for moved in ((lambda moment: moment.astimezone(zone) if moment.tzinfo else moment), (lambda moment: moment)):
        begin, until = moved(start), moved(end)
        if until.time() >= time(23, 59):
            until = datetime.combine(until.date() + timedelta(days=1), time(), until.tzinfo)
        if begin.time() == time() == until.time() and until.date() > begin.date():
            return begin.date(), until.date() - timedelta(days=1)
    return None


def calendars_in():
    import icalendar, recurring_ical_events
    answer = json.loads(ask(f"{OF}/calendar"))
    first, last = (date.fromisoformat(answer["set"][key]) for key in ("firstDay", "lastDay"))
    zone, meetings = zoneinfo.ZoneInfo(answer["timeZone"]), set(answer["set"]["meetingDays"])
    known = {off["day"] for off in answer["set"]["daysOff"]}
    files = sorted(glob.glob(os.path.join(ROOT, "crates/documents/tests/calendars/*.ics")))
    same, differ = 0, ""
    for path in files:
        data = open(path, "rb").read()
        text = (data.decode("utf-16") if data[:2] == b"\xff\xfe" else data.decode()).replace("\r\n", "\n").replace("\r", "\n")
        wanted = set()
        for calendar in icalendar.Calendar.from_ical(text, multiple=True):
            for event in recurring_ical_events.of(calendar).between(first, last + timedelta(days=1)):
                if str(event.get("STATUS", "")).upper() == "CANCELLED":
                    continue
                start = event.decoded("DTSTART")
                end = event.decoded("DTEND") if "DTEND" in event else start + (event.decoded("DURATION") if "DURATION" in event else timedelta(days=1))
                days = whole(start, end, zone)
                if days and (days[1] - days[0]).days < 120:
                    wanted |= {days[0] + timedelta(days=n) for n in range((days[1] - days[0]).days + 1)}
        wanted = {day for day in wanted if first <= day <= last}
        found = json.loads(ask(f"{OF}/calendar/days-off", data, "application/octet-stream"))
        ours = {one["day"] for one in found["days"]}
        meeting = {day.isoformat() for day in wanted if day.isoweekday() in meetings} - known
        good = ours == meeting and len(ours) + found["others"] == len(wanted)
        same += good
        differ = differ or ("" if good else f"{os.path.basename(path)}: {sorted(ours ^ meeting)[:4]}, {len(ours) + found['others']} and {len(wanted)} days")
    say("days off of 60 calendars are the same", "recurring-ical-events", same, len(files), differ)


# Tables.
NAMES = ["Nguyễn Hương", "Αθηνά Ξένου", "Жанна Рощина", "محمد علي", "עדן לוי", "美咲 佐藤", "지우 김", "Zoë Müller"]


def tables():
    import pandas
    names = [child["name"] for child in ROSTER]
    roster = ask(f"{OF}/roster.csv")
    frame = pandas.read_csv(io.BytesIO(roster), dtype=str, keep_default_na=False)
    found = column_of(frame, names)
    say("children of roster.csv", "pandas", len(set(found) & set(names)) if len(found) == len(names) else 0, len(names))
    for what in ("roster", "instruments", "supplies"):
        plain = pandas.read_csv(io.BytesIO(ask(f"{OF}/{what}.csv")), dtype=str, keep_default_na=False)
        book = pandas.read_excel(io.BytesIO(ask(f"{OF}/{what}.xlsx")), dtype=str, keep_default_na=False)
        same = [list(one) for one in plain.values] == [list(one) for one in book.values] and list(plain.columns) == list(book.columns)
        say(f"{what}.xlsx says what {what}.csv says", "pandas with openpyxl", len(book) if same else 0, len(plain))
    attendance = pandas.read_csv(io.BytesIO(ask(f"{OF}/attendance.csv")), dtype=str, keep_default_na=False)
    say("children of attendance.csv", "pandas", len(set(column_of(attendance, names)) & set(names)), len(names))
    term = ask(f"{OF}/term.xlsx")
    sheet = pandas.read_excel(io.BytesIO(term), sheet_name=None, dtype=str)
    say("sheets of term.xlsx", "pandas with openpyxl", sum(len(one.columns) > 1 for one in sheet.values()), len(sheet))
    office(roster, names)


def column_of(frame, names):
    """The column that holds the children."""
    return max((list(frame[column]) for column in frame.columns), key=lambda cells: len(set(cells) & set(names)))


def office(roster, names):
    """Through LibreOffice and back: nothing is new and nothing changes."""
    path = kept("roster.csv", roster)
    for kind, back in (("xlsx", "a spreadsheet"), ("ods", "an .ods"), ("csv", "a table")):
        out = os.path.join(folder, f"office-{kind}")
        ran = run("soffice", "--headless", "--convert-to", kind, "--infilter=CSV:44,34,76", "--outdir", out, path)
        made = os.path.join(out, f"roster.{kind}")
        if not os.path.exists(made):
            say(f"roster as {back} of LibreOffice and back", "LibreOffice", 0, len(names), (ran.stderr or ran.stdout)[-160:])
            continue
        preview = json.loads(ask(f"{OF}/roster/import", open(made, "rb").read(), "application/octet-stream"))
        say(f"roster as {back} of LibreOffice and back", "LibreOffice", preview["same"], len(names), f"{preview['new']} new, {preview['changed']} changed")
    for how, form, kind in (("composed", "NFC", "xlsx"), ("decomposed", "NFD", "xlsx"), ("composed", "NFC", "ods"), ("decomposed", "NFD", "ods")):
        text = io.StringIO()
        csv.writer(text).writerows([["Name", "Instrument"]] + [[unicodedata.normalize(form, name), "violin"] for name in NAMES])
        path = kept(f"{how}.csv", text.getvalue().encode())
        run("soffice", "--headless", "--convert-to", kind, "--infilter=CSV:44,34,76", "--outdir", folder, path)
        made = open(os.path.join(folder, f"{how}.{kind}"), "rb").read()
        preview = json.loads(ask(f"{OF}/roster/import?keepNames=true", made, "application/octet-stream"))
        found = {row["name"] for row in preview["rows"]}
        say(f"names in eight scripts, {how}, out of .{kind}", "LibreOffice", len(found & set(NAMES)), len(NAMES))


# Pages.
def pages():
    import pdfplumber
    asset = json.loads(ask(f"{OF}/instruments"))["assets"][0]["id"]
    of_child = f"{OF}/children/{CHILD}"
    kinds = [f"{of_child}/card.pdf", f"{of_child}/family-card.pdf", f"{of_child}/family-card.pdf?large=true", f"{of_child}/record.pdf", f"{of_child}/term.pdf"]
    kinds += [f"{of_child}/sheet.pdf?sheet={sheet}" for sheet in ("loan", "care", "size-change", "luthier")]
    kinds += [f"{OF}/{page}" for page in ("home/cards.pdf", "labels.pdf", "notes.pdf", "order-list.pdf", "seats.pdf", "tapes/templates.pdf", "term.pdf", "wall.pdf?strand=hold&instrument=violin")]
    fine = embedded = texts = titled = languages = 0
    broken = ""
    for number, page in enumerate(kinds):
        path = kept(f"page-{number}.pdf", ask(page))
        check = run("qpdf", "--check", path)
        fine += check.returncode == 0
        broken = broken or ("" if check.returncode == 0 else f"{page}: {(check.stdout + check.stderr)[-100:]}")
        fonts = [line.split() for line in run("pdffonts", path).stdout.splitlines()[2:]]
        embedded += bool(fonts) and all(line[-5] == "yes" for line in fonts)
        with pdfplumber.open(path) as pdf:
            texts += all((sheet.extract_text() or "").strip() for sheet in pdf.pages)
            titled += bool(pdf.metadata.get("Title"))
            languages += "Lang" in pdf.doc.catalog
    say("PDFs are sound", "qpdf", fine, len(kinds), broken)
    say("their fonts are embedded", "pdffonts", embedded, len(kinds))
    say("each of their pages has text", "pdfplumber", texts, len(kinds))
    say("they say their title", "pdfplumber", titled, len(kinds))
    say("they say their language", "pdfplumber", languages, len(kinds))
    names_on_paper(pdfplumber)


def names_on_paper(pdfplumber):
    """The children's names stand in the text of the seats' page as they are."""
    with pdfplumber.open(kept("seats.pdf", ask(f"{OF}/seats.pdf"))) as pdf:
        text = "\n".join(sheet.extract_text() or "" for sheet in pdf.pages)
    seated = [child["name"] for child in ROSTER if child.get("seat")] or [child["name"] for child in ROSTER]
    say("names are found in the text of seats.pdf", "pdfplumber", sum(name.split(" ")[0] in text for name in seated), len(seated))


# Of each sheet of labels what is asked for, how many lie across and down, where the first begins, how large each is and how far
# the next, in millimetres; of tags to cut out the whole page is looked at.
SHEETS = {
    "to cut out": ("paper=a4", None),
    "24 to a sheet": ("sheet=twentyFour", (3, 8, 0, 0.5, 70, 37, 70, 37)),
    "21 to a sheet": ("sheet=twentyOne&begun=4", (3, 7, 7.2, 15.15, 63.5, 38.1, 66.05, 38.1)),
    "30 to a sheet": ("sheet=thirty", (3, 10, 4.76, 12.7, 66.68, 25.4, 69.85, 25.4)),
}


def labels():
    tags = {asset["tag"] for asset in json.loads(ask(f"{OF}/instruments"))["assets"]}
    for what, (query, grid) in SHEETS.items():
        pages = pictures(kept("labels.pdf", ask(f"{OF}/labels.pdf?{query}")))
        seen = run("zbarimg", "--quiet", "--raw", "-Sdisable", "-Sqrcode.enable", *(one for page in pages for one in (cut(page, grid) if grid else [page]))).stdout.split()
        read = {urllib.parse.unquote(address.rsplit("/i/", 1)[-1]) for address in seen}
        say(f"codes on tags, {what}, lead to their place", "zbar", len(read & tags), len(tags))


def pictures(path):
    """The pages of a PDF at 200 dots an inch."""
    for old in glob.glob(os.path.join(folder, "label-*.png")):
        os.remove(old)
    subprocess.run(["pdftoppm", "-r", "200", "-png", path, os.path.join(folder, "label")], check=True)
    return sorted(glob.glob(os.path.join(folder, "label-*.png")))


def cut(page, grid):
    """Each label of a page by itself, as a camera sees it."""
    from PIL import Image
    across, down, left, top, width, height, right, below = grid
    dots = 200 / 25.4
    for number in range(across * down):
        x, y = left + number % across * right, top + number // across * below
        path = page.replace("label-", f"label-{number}-of-")
        Image.open(page).crop((int(x * dots), int(y * dots), int((x + width) * dots), int((y + height) * dots))).save(path)
        yield path


for part in (openapi, music, other_forms, calendars_out, contacts, calendars_in, tables, pages, labels):
    part()
missed = sum(good != of for _, _, good, of in rows)
print(f"{len(rows) - missed} of {len(rows)} as they should be")
sys.exit(1 if missed else 0)
