//! The rooms of the house: what may import what, as ARCHITECTURE.md has it.

use crate::structure::Structure;
use std::collections::{BTreeMap, BTreeSet};
use std::fs;
use std::path::Path;

/// The tables of ARCHITECTURE.md: each room, or part of `world`, with those it may import.
fn allowed() -> BTreeMap<String, Vec<String>> {
    let root = Path::new(env!("CARGO_MANIFEST_DIR"));
    let text = fs::read_to_string(root.join("../../ARCHITECTURE.md")).unwrap();
    let rows = text.lines().filter(|line| line.starts_with("| `"));
    let names = |cell: &str| -> Vec<String> {
        cell.split('`')
            .skip(1)
            .step_by(2)
            .map(str::to_owned)
            .collect()
    };
    rows.filter_map(|row| {
        let cells: Vec<&str> = row.split('|').collect();
        let room = names(cells[1]).remove(0);
        (cells.len() == 5).then(|| (room, names(cells[3])))
    })
    .collect()
}

/// The imports that no row allows, between rooms or between the parts of one room. `part` names where a module is.
fn not_allowed(
    structure: &Structure,
    part: impl Fn(&[String]) -> Option<String>,
) -> BTreeSet<String> {
    let allowed = allowed();
    let mut wrong = BTreeSet::new();
    for (module, taken) in structure.edges() {
        let Some(from) = part(&module) else { continue };
        for other in &taken {
            let may = |to: &String| allowed.get(&from).is_some_and(|may| may.contains(to));
            if part(other).is_some_and(|to| to != from && !may(&to)) {
                wrong.insert(format!("{} imports {}", module.join("/"), other.join("/")));
            }
        }
    }
    wrong
}

#[test]
fn rooms_import_only_what_lies_below_them() {
    let (_, core) = crates().remove(0);
    let wrong = not_allowed(&core, |module| module.first().cloned());
    assert!(wrong.is_empty(), "{wrong:#?}");
}

#[test]
fn parts_of_the_world_import_only_what_lies_below_them() {
    let (_, core) = crates().remove(0);
    let folders = [
        "kind", "game", "message", "sites", "senses", "drills", "state", "legs", "arms",
        "activity", "orders", "step",
    ];
    let wrong = not_allowed(&core, |module| {
        let inner = module.first().is_some_and(|room| room == "world");
        inner.then(|| match module.get(1).map(String::as_str) {
            Some(name @ ("ids" | "inbox" | "sides")) => format!("world/{name}"),
            Some(name) if folders.contains(&name) => format!("world/{name}"),
            _ => "world facade".to_owned(),
        })
    });
    assert!(wrong.is_empty(), "{wrong:#?}");
}

fn crates() -> Vec<(&'static str, Structure)> {
    let root = Path::new(env!("CARGO_MANIFEST_DIR")).join("..");
    ["yarrick", "yarrick-draw", "yarrick-cli"]
        .map(|name| (name, Structure::read(&root.join(name).join("src"))))
        .into()
}

#[test]
fn no_files_import_each_other_in_a_circle() {
    let mut found = Vec::new();
    for (name, structure) in crates() {
        for circle in structure.circles() {
            found.push(format!("{name}: {}", circle.join(", ")));
        }
    }
    assert!(found.is_empty(), "\n{}", found.join("\n"));
}

#[test]
fn files_and_functions_fit_on_a_screen() {
    let mut found = Vec::new();
    let examples = Path::new(env!("CARGO_MANIFEST_DIR")).join("examples");
    let examples = ("examples", Structure::read(&examples));
    for (name, structure) in crates().into_iter().chain([examples]) {
        for (file, path) in structure.files() {
            let text = fs::read_to_string(path).unwrap();
            let lines: Vec<&str> = text.lines().collect();
            if lines.len() > 500 {
                found.push(format!("{name}/{file} has {} lines", lines.len()));
            }
            for (at, line) in lines.iter().enumerate() {
                let indent = line.len() - line.trim_start().len();
                let head = line.trim_start();
                let is_function = head.starts_with("fn ")
                    || head.starts_with("pub") && head.split('(').next().unwrap().contains("fn ")
                    || head.starts_with("pub(") && head.contains(") fn ");
                // One of a trait without a body ends before any body begins.
                let ends = lines[at..].iter().position(|line| line.ends_with(';'));
                let begins = lines[at..].iter().position(|line| line.ends_with('{'));
                if !is_function || ends.is_some_and(|end| begins.is_none_or(|begin| end < begin)) {
                    continue;
                }
                let end = format!("{}}}", " ".repeat(indent));
                let length = lines[at..].iter().position(|line| *line == end);
                if let Some(length) = length.filter(|length| *length >= 60) {
                    let head = head.split('(').next().unwrap();
                    found.push(format!(
                        "{name}/{file}:{}: {head} has {} lines",
                        at + 1,
                        length + 1
                    ));
                }
            }
        }
    }
    assert!(found.is_empty(), "\n{}", found.join("\n"));
}

#[test]
fn every_room_is_in_the_table() {
    let text =
        fs::read_to_string(Path::new(env!("CARGO_MANIFEST_DIR")).join("src/lib.rs")).unwrap();
    let allowed = allowed();
    for line in text.lines() {
        if let Some(room) = line
            .strip_prefix("pub mod ")
            .and_then(|rest| rest.strip_suffix(';'))
        {
            assert!(
                allowed.contains_key(room),
                "ARCHITECTURE.md does not have the room {room}"
            );
        }
    }
}

#[test]
fn the_scan_sees_grouped_imports_steps_outwards_and_names_handed_on() {
    let root = Path::new(env!("CARGO_TARGET_TMPDIR")).join("made-up crate");
    let files = [
        ("lib.rs", "pub mod near;\npub mod reeds;\npub mod tide;\n"),
        (
            "near.rs",
            "use crate::{reeds::{Bed, mud}, tide};\n// use crate::lib;\n",
        ),
        ("reeds/mod.rs", "mod bed;\npub use bed::Bed;\n"),
        (
            "reeds/bed.rs",
            "pub struct Bed(super::super::tide::Tide);\n",
        ),
        ("tide.rs", "use super::near::index;\n"),
    ];
    for (name, text) in files {
        let path = root.join(name);
        fs::create_dir_all(path.parent().unwrap()).unwrap();
        fs::write(path, text).unwrap();
    }
    let structure = Structure::read(&root);
    let edges: Vec<String> = structure
        .edges()
        .into_iter()
        .flat_map(|(from, taken)| {
            taken
                .into_iter()
                .map(move |to| format!("{} → {}", from.join("/"), to.join("/")))
        })
        .collect();
    assert_eq!(
        edges,
        [
            "near → reeds",
            "near → reeds/bed",
            "near → tide",
            "reeds/bed → tide",
            "tide → near"
        ]
    );
    assert_eq!(structure.circles(), [["near", "reeds/bed", "tide"]]);
}
