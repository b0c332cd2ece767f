//! Imports go down only, and never in a circle between folders: read from the `use` lines and the paths in the code of every
//! crate.
#![allow(missing_docs)]

use std::collections::{BTreeMap, BTreeSet};
use std::path::{Path, PathBuf};

/// A module by its path below the crate, `["craft", "loader"]`, with the modules it imports.
type Modules = BTreeMap<Vec<String>, BTreeSet<Vec<String>>>;

fn rust_files(folder: &Path, found: &mut Vec<PathBuf>) {
    for entry in std::fs::read_dir(folder).expect("a folder of sources") {
        let path = entry.expect("an entry").path();
        if path.is_dir() {
            rust_files(&path, found);
        } else if path.extension().is_some_and(|end| end == "rs") {
            found.push(path);
        }
    }
}

/// The code without comments.
fn code_of(path: &Path) -> String {
    let text = std::fs::read_to_string(path).expect("a source");
    let lines = text.lines().map(|line| line.split("//").next().unwrap_or_default());
    lines.collect::<Vec<_>>().join("\n")
}

/// The paths of a `use` tree, `a::{b, c::d}` as `a::b` and `a::c::d`.
fn paths_of(tree: &str) -> Vec<String> {
    let tree = tree.trim();
    let Some(open) = tree.find('{') else {
        return vec![tree.split(" as ").next().unwrap_or_default().trim().to_owned()];
    };
    let (stem, rest) = (&tree[..open], &tree[open + 1..tree.rfind('}').unwrap_or(tree.len())]);
    let (mut depth, mut part, mut parts) = (0, String::new(), Vec::new());
    for letter in rest.chars() {
        match letter {
            '{' => depth += 1,
            '}' => depth -= 1,
            ',' if depth == 0 => {
                parts.push(std::mem::take(&mut part));
                continue;
            }
            _ => {}
        }
        part.push(letter);
    }
    parts.push(part);
    let parts = parts.iter().map(|part| part.trim()).filter(|part| !part.is_empty());
    parts.flat_map(paths_of).map(|path| format!("{stem}{path}")).collect()
}

/// The paths in a file's code that begin in its own crate, as modules' names from the crate's root.
fn own_paths(code: &str, here: &[String]) -> Vec<Vec<String>> {
    let mut paths = Vec::new();
    let begins = |line: &str| {
        let line = line.trim_start();
        ["use ", "pub use ", "pub(crate) use "].iter().find_map(|word| line.strip_prefix(word)).map(str::len)
    };
    let lines = code.match_indices('\n').map(|(at, _)| at + 1).chain([0]);
    let uses = lines.filter_map(|at| {
        let line = code[at..].split('\n').next()?;
        let start = at + line.len() - begins(line)?;
        code[start..].split(';').next()
    });
    for path in uses.flat_map(paths_of) {
        let names: Vec<String> = path.split("::").map(|name| name.trim().to_owned()).collect();
        match names.first().map(String::as_str) {
            Some("crate") => paths.push(names[1..].to_vec()),
            Some("super") => {
                let up = names.iter().take_while(|name| *name == "super").count();
                let base = here.len().saturating_sub(up);
                paths.push(here[..base].iter().chain(&names[up..]).cloned().collect());
            }
            _ => {}
        }
    }
    for inline in code.split("crate::").skip(1) {
        let path: String = inline.chars().take_while(|c| c.is_alphanumeric() || matches!(c, '_' | ':')).collect();
        paths.push(path.split("::").map(str::to_owned).collect());
    }
    paths
}

/// The modules of a crate of this workspace.
fn modules(name: &str) -> Modules {
    let root = Path::new(env!("CARGO_MANIFEST_DIR")).join("..").join(name).join("src");
    let mut files = Vec::new();
    rust_files(&root, &mut files);
    let module = |path: &Path| -> Vec<String> {
        let below = path.strip_prefix(&root).expect("below the root").with_extension("");
        let names = below.iter().map(|name| name.to_string_lossy().into_owned());
        names.filter(|name| !matches!(name.as_str(), "mod" | "lib" | "main")).collect()
    };
    let all: BTreeSet<Vec<String>> = files.iter().map(|path| module(path)).collect();
    let mut found = Modules::new();
    for path in &files {
        let here = module(path);
        let imports = own_paths(&code_of(path), &here).into_iter().filter_map(|path| {
            (1..=path.len()).rev().map(|length| path[..length].to_vec()).find(|module| all.contains(module))
        });
        let imports: BTreeSet<_> = imports.filter(|module| *module != here).collect();
        found.entry(here).or_default().extend(imports);
    }
    found
}

/// Everything that can be reached from a module.
fn reached(modules: &Modules, from: &[String]) -> BTreeSet<Vec<String>> {
    let (mut reached, mut open) = (BTreeSet::new(), vec![from.to_vec()]);
    while let Some(module) = open.pop() {
        for next in modules.get(&module).into_iter().flatten() {
            if reached.insert(next.clone()) {
                open.push(next.clone());
            }
        }
    }
    reached
}

/// The folder a module stands in, by its first name.
fn room(module: &[String]) -> &str {
    module.first().map_or("", String::as_str)
}

/// Every import that leaves its room for one it may not know, as `from -> to`.
fn forbidden(modules: &Modules, may: impl Fn(&str, &str) -> bool) -> Vec<String> {
    let edges = modules.iter().flat_map(|(from, imports)| imports.iter().map(move |to| (from, to)));
    let edges = edges.filter(|(from, to)| room(from) != room(to) && !may(room(from), room(to)));
    edges.map(|(from, to)| format!("{} -> {}", from.join("::"), to.join("::"))).collect()
}

/// Modules of different folders that import each other, directly or by way of others.
fn circles(modules: &Modules) -> Vec<String> {
    let folder = |module: &[String]| module[..module.len().saturating_sub(1)].to_vec();
    let mut found = Vec::new();
    for from in modules.keys().filter(|module| !module.is_empty()) {
        for to in reached(modules, from).iter().filter(|to| *to > from && folder(to) != folder(from)) {
            // A folder and its own `mod.rs` belong together.
            let together = to.starts_with(from) || from.starts_with(to);
            if !together && reached(modules, to).contains(from) {
                found.push(format!("{} <-> {}", from.join("::"), to.join("::")));
            }
        }
    }
    found
}

#[test]
fn a_use_tree_is_read_to_its_paths() {
    assert_eq!(paths_of("a::{b, c::{d, e as f}, self}"), ["a::b", "a::c::d", "a::c::e", "a::self"]);
    let here = ["craft".to_owned(), "loader".to_owned()];
    let code = "use super::tune::Tune;\nfn f() -> crate::ids::ChildId {}";
    assert_eq!(own_paths(code, &here), [vec!["craft", "tune", "Tune"], vec!["ids", "ChildId"]]);
}

#[test]
fn a_circle_between_folders_is_found() {
    let module = |path: &str| path.split("::").map(str::to_owned).collect::<Vec<_>>();
    let edges = [("a::x", "b::y"), ("b::y", "c::z"), ("c::z", "a::x"), ("a::x", "a::w"), ("a::w", "a::x")];
    let mut modules = Modules::new();
    for (from, to) in edges {
        modules.entry(module(from)).or_default().insert(module(to));
    }
    assert_eq!(
        circles(&modules),
        ["a::x <-> b::y", "a::x <-> c::z", "a::w <-> b::y", "a::w <-> c::z", "b::y <-> c::z"]
            .into_iter()
            .collect::<BTreeSet<_>>()
            .into_iter()
            .collect::<Vec<_>>()
    );
    assert_eq!(forbidden(&modules, |from, to| (from, to) != ("c", "a")), ["c::z -> a::x"]);
}

#[test]
fn core_imports_go_down_only() {
    let core = modules("core");
    assert!(core.len() > 40, "the sources were read");
    let shared = ["day", "ids", "instrument", "number", "role", "seat", "text", "worded"];
    let below: BTreeMap<&str, &[&str]> = [
        ("figure", &[][..]),
        ("listening", &[]),
        ("craft", &["figure"]),
        ("tapes", &["craft"]),
        ("setup", &["craft"]),
        ("progress", &["craft", "tapes"]),
        ("round", &["craft", "tapes", "progress"]),
        ("lessons", &["craft", "tapes", "progress"]),
        ("term", &["craft", "tapes", "progress", "round"]),
    ]
    .into();
    let may = |from: &str, to: &str| shared.contains(&to) || below.get(from).is_some_and(|below| below.contains(&to));
    let mut wrong = forbidden(&core, may);
    wrong.retain(|edge| !edge.starts_with(" -> "));
    assert_eq!(wrong, Vec::<String>::new());
    assert_eq!(circles(&core), Vec::<String>::new());
}

#[test]
fn documents_and_store_have_no_circles_and_entities_know_no_aggregate() {
    assert_eq!(circles(&modules("documents")), Vec::<String>::new());
    let store = modules("store");
    assert_eq!(circles(&store), Vec::<String>::new());
    let leaves = ["entity", "error", "rows", "versioned", "migration"];
    let may = |from: &str, to: &str| !leaves.contains(&from) || leaves.contains(&to);
    assert_eq!(forbidden(&store, may), Vec::<String>::new());
}

#[test]
fn the_server_goes_from_routes_to_use_cases_and_never_back() {
    let server = modules("server");
    let leaves = [
        "error",
        "failure",
        "passwords",
        "readers",
        "turns",
        "writers",
        "content",
        "checklist_cache",
        "kept",
        "caches",
        "digest",
        "live",
    ];
    let may = |from: &str, to: &str| match from {
        "error" => false,
        "demo" | "extract" | "state" | "live" | "caches" | "digest" | "checklist_cache" | "class_cache"
        | "passwords" | "readers" | "turns" | "writers" | "content" | "failure" => leaves.contains(&to),
        "auth" => ["state", "extract"].contains(&to) || leaves.contains(&to),
        // Use cases count what they do; the measurements know nothing of them.
        "use_cases" => ["auth", "state", "extract", "telemetry"].contains(&to) || leaves.contains(&to),
        "telemetry" => to == "state" || leaves.contains(&to),
        "routes" => to != "router" && to != "serve" && to != "cli",
        _ => true,
    };
    assert_eq!(forbidden(&server, may), Vec::<String>::new());
    assert_eq!(circles(&server), Vec::<String>::new());
}
