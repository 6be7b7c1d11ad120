//! The rooms of the house: what may import what, as ARCHITECTURE.md has it.

use std::collections::BTreeMap;
use std::fs;
use std::path::{Path, PathBuf};

/// The table of ARCHITECTURE.md: each room with the rooms that it may import.
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
    rows.map(|row| {
        let cells: Vec<&str> = row.split('|').collect();
        (names(cells[1]).remove(0), names(cells[3]))
    })
    .collect()
}

/// The source files of a room.
fn files(path: &Path, found: &mut Vec<PathBuf>) {
    if path.is_dir() {
        for entry in fs::read_dir(path).unwrap() {
            files(&entry.unwrap().path(), found);
        }
    } else if path.extension().is_some_and(|ending| ending == "rs") {
        found.push(path.to_owned());
    }
}

/// The rooms that a file names in its code: after `crate::`, or after as many `super::` as lead
/// out of the room, and in grouped imports after either. `depth` is how many `super::` that is.
fn rooms_named(text: &str, depth: usize, rooms: &[&String]) -> Vec<String> {
    let code: String = text
        .lines()
        .filter(|line| !line.trim_start().starts_with("//"))
        .flat_map(|line| [line, "\n"])
        .collect();
    let out = "super::".repeat(depth);
    let mut named = Vec::new();
    for root in ["crate::", &out] {
        for (at, _) in code.match_indices(root) {
            let rest = &code[at + root.len()..];
            let group = rest
                .strip_prefix('{')
                .and_then(|inner| inner.split("};").next());
            let heads: Vec<&str> = match group {
                Some(inner) => top_level_heads(inner),
                None => vec![rest],
            };
            for head in heads {
                let word = head
                    .split(|c: char| !c.is_alphanumeric() && c != '_')
                    .next();
                let known = rooms.iter().filter(|room| word == Some(room));
                named.extend(known.map(|room| room.to_string()));
            }
        }
    }
    named
}

/// The beginnings of the parts of a grouped import that stand outside inner braces.
fn top_level_heads(group: &str) -> Vec<&str> {
    let mut depth = 0;
    let parts = group.split(move |c: char| {
        depth += i32::from(c == '{') - i32::from(c == '}');
        c == ',' && depth == 0
    });
    parts.map(str::trim).collect()
}

#[test]
fn rooms_import_only_what_lies_below_them() {
    let source = Path::new(env!("CARGO_MANIFEST_DIR")).join("src");
    let allowed = allowed();
    let rooms: Vec<&String> = allowed.keys().collect();
    let mut wrong = Vec::new();
    for (room, may) in &allowed {
        let mut found = Vec::new();
        files(&source.join(room), &mut found);
        files(&source.join(format!("{room}.rs")), &mut found);
        found.retain(|path| path.exists());
        assert!(
            !found.is_empty(),
            "ARCHITECTURE.md names the room {room}, which is not there"
        );
        for path in found {
            let text = fs::read_to_string(&path).unwrap();
            let inner = path.strip_prefix(&source).unwrap();
            let is_root = inner.ends_with("mod.rs");
            let depth = inner.components().count() - usize::from(is_root);
            for named in rooms_named(&text, depth, &rooms) {
                if named != *room && !may.contains(&named) {
                    wrong.push(format!("{} imports {named}", path.display()));
                }
            }
        }
    }
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
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
fn the_scan_sees_grouped_imports_and_steps_out_of_the_room() {
    let rooms = ["near".to_owned(), "world".to_owned(), "geom".to_owned()];
    let rooms: Vec<&String> = rooms.iter().collect();
    let text = "use crate::{geom::{Rect, world}, near};\n// use crate::world;\n";
    assert_eq!(rooms_named(text, 1, &rooms), ["geom", "near"]);
    let text = "use super::super::world::World;\nuse super::near;\n";
    assert_eq!(rooms_named(text, 2, &rooms), ["world"]);
}
