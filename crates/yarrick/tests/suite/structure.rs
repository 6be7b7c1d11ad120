//! Reading the structure of a crate from its sources: modules, and which file takes names from which.

use std::collections::{BTreeMap, BTreeSet};
use std::fs;
use std::path::{Path, PathBuf};

/// The files of a crate, and what each takes from others.
pub(crate) struct Structure {
    /// The source folder.
    root: PathBuf,
    /// The file of each module, by its path from the root: empty for the root itself.
    files: BTreeMap<Vec<String>, PathBuf>,
    /// The names that a module hands on from its children, each with where it takes it from.
    handed_on: BTreeMap<Vec<String>, BTreeMap<String, Vec<String>>>,
    code: BTreeMap<Vec<String>, String>,
}

/// All source files below a folder.
pub(crate) fn sources(path: &Path, found: &mut Vec<PathBuf>) {
    if path.is_dir() {
        let mut entries: Vec<PathBuf> = fs::read_dir(path)
            .unwrap()
            .map(|entry| entry.unwrap().path())
            .collect();
        entries.sort();
        for entry in entries {
            sources(&entry, found);
        }
    } else if path.extension().is_some_and(|ending| ending == "rs") {
        found.push(path.to_owned());
    }
}

/// The code of a file without comments and without the tests at its end.
fn code_of(path: &Path) -> String {
    let text = fs::read_to_string(path).unwrap();
    let text = text.split("#[cfg(test)]\nmod tests").next().unwrap();
    let lines = text
        .lines()
        .filter(|line| !line.trim_start().starts_with("//"));
    lines.flat_map(|line| [line, "\n"]).collect()
}

/// The paths of a text like `a::{b::{c, d}, e as f}`: `a::b::c`, `a::b::d`, `a::e`.
fn expand(text: &str) -> Vec<Vec<String>> {
    let Some(brace) = text.find('{') else {
        let name = text.split(" as ").next().unwrap();
        let parts = name.split("::").map(|part| part.trim().to_owned());
        return vec![parts.filter(|part| !part.is_empty()).collect()];
    };
    let head = text[..brace].trim().trim_end_matches("::");
    let inner = text[brace + 1..]
        .rsplit_once('}')
        .map_or("", |(inner, _)| inner);
    let mut depth = 0;
    let parts = inner.split(|c: char| {
        depth += i32::from(c == '{') - i32::from(c == '}');
        c == ',' && depth == 0
    });
    let mut paths = Vec::new();
    for part in parts.map(str::trim).filter(|part| !part.is_empty()) {
        for rest in expand(part) {
            let mut path = expand(head).remove(0);
            path.extend(rest);
            paths.push(path);
        }
    }
    paths
}

/// The `use` items of a code: what each says, and whether it hands names on.
fn uses(code: &str) -> Vec<(String, bool)> {
    let mut found = Vec::new();
    for (at, _) in code.match_indices("use ") {
        let before = code[..at].rsplit('\n').next().unwrap().trim();
        let is_item = before.is_empty() || before.starts_with("pub") && !before.contains(' ');
        let item = code[at + 4..].split(';').next().unwrap();
        if is_item {
            found.push((item.to_owned(), before.starts_with("pub")));
        }
    }
    found
}

/// Paths in the code outside `use` items that begin with `crate::` or `super::`.
fn inline_paths(code: &str) -> Vec<Vec<String>> {
    let mut found = Vec::new();
    for root in ["crate::", "super::"] {
        for (at, _) in code.match_indices(root) {
            let goes_on = code[..at].ends_with("pub(in ")
                || code[..at].ends_with("::")
                || code[..at].ends_with(char::is_alphanumeric);
            let path: String = code[at..]
                .chars()
                .take_while(|c| c.is_alphanumeric() || *c == '_' || *c == ':')
                .collect();
            if !goes_on {
                found.extend(expand(path.trim_end_matches(':')));
            }
        }
    }
    found
}

impl Structure {
    /// Reads the crate whose sources lie in a folder, in `lib.rs` or `main.rs`.
    pub(crate) fn read(root: &Path) -> Structure {
        let mut paths = Vec::new();
        sources(root, &mut paths);
        let module = |path: &PathBuf| -> Vec<String> {
            let inner = path.strip_prefix(root).unwrap().with_extension("");
            let parts = inner.iter().map(|part| part.to_str().unwrap().to_owned());
            let mut parts: Vec<String> = parts.collect();
            if matches!(
                parts.last().map(String::as_str),
                Some("mod" | "lib" | "main")
            ) {
                parts.pop();
            }
            parts
        };
        let files: BTreeMap<_, _> = paths
            .iter()
            .map(|path| (module(path), path.clone()))
            .collect();
        let code: BTreeMap<_, _> = files
            .iter()
            .map(|(module, path)| (module.clone(), code_of(path)))
            .collect();
        let mut structure = Structure {
            root: root.to_owned(),
            files,
            handed_on: BTreeMap::new(),
            code,
        };
        for (module, code) in &structure.code {
            let mut names = BTreeMap::new();
            for (item, _) in uses(code).into_iter().filter(|(_, hands_on)| *hands_on) {
                for path in expand(&item) {
                    let name = path.last().unwrap().clone();
                    names.insert(name, structure.absolute(module, &path));
                }
            }
            structure.handed_on.insert(module.clone(), names);
        }
        structure
    }

    /// A path from the root of the crate; one that begins with a name of the module itself likewise.
    fn absolute(&self, module: &[String], path: &[String]) -> Vec<String> {
        let mut at = module.to_vec();
        let mut rest = path;
        match path.first().map(String::as_str) {
            Some("crate") => {
                at.clear();
                rest = &path[1..];
            }
            Some("self") => rest = &path[1..],
            Some("super") => {
                while rest.first().is_some_and(|part| part == "super") {
                    at.pop();
                    rest = &rest[1..];
                }
            }
            _ => {}
        }
        at.extend_from_slice(rest);
        at
    }

    /// The module in which the thing is that a path names: hands are followed to where it lies.
    fn home(&self, path: &[String], depth: usize) -> Option<Vec<String>> {
        let longest = (0..=path.len())
            .rev()
            .find(|len| self.files.contains_key(&path[..*len]))?;
        let (module, rest) = path.split_at(longest);
        match rest
            .first()
            .and_then(|name| self.handed_on[module].get(name))
        {
            Some(from) if depth < 8 => self.home(from, depth + 1),
            _ => Some(module.to_vec()),
        }
    }

    /// The modules from which each takes names, handing on not counted.
    pub(crate) fn edges(&self) -> BTreeMap<Vec<String>, BTreeSet<Vec<String>>> {
        let mut edges = BTreeMap::new();
        for (module, code) in &self.code {
            let mut paths: Vec<Vec<String>> = Vec::new();
            let mut rest = code.clone();
            for (item, hands_on) in uses(code) {
                rest = rest.replace(&format!("use {item};"), "");
                let first = item.split("::").next().unwrap().trim();
                let own = self
                    .files
                    .contains_key(&self.absolute(module, &[first.to_owned()]));
                if !hands_on && (own || matches!(first, "crate" | "super" | "self")) {
                    paths.extend(expand(&item));
                }
            }
            paths.extend(inline_paths(&rest));
            let homes = paths
                .iter()
                .filter_map(|path| self.home(&self.absolute(module, path), 0));
            let taken: BTreeSet<Vec<String>> = homes.filter(|home| home != module).collect();
            edges.insert(module.clone(), taken);
        }
        edges
    }

    /// The circles: groups of modules of which each reaches every other.
    pub(crate) fn circles(&self) -> Vec<Vec<String>> {
        let edges = self.edges();
        let reach = |from: &Vec<String>| {
            let mut seen = BTreeSet::new();
            let mut next: Vec<&Vec<String>> = edges[from].iter().collect();
            while let Some(module) = next.pop() {
                if seen.insert(module.clone()) {
                    next.extend(&edges[module]);
                }
            }
            seen
        };
        let reached: BTreeMap<_, _> = edges.keys().map(|module| (module, reach(module))).collect();
        let mut circles: Vec<Vec<String>> = Vec::new();
        for (module, reached_from) in &reached {
            if reached_from.contains(*module) {
                let mut circle: Vec<String> = reached_from
                    .iter()
                    .filter(|other| reached[other].contains(*module))
                    .map(|other| other.join("/"))
                    .collect();
                circle.sort();
                if !circles.contains(&circle) {
                    circles.push(circle);
                }
            }
        }
        circles
    }

    /// The files, with their paths from the source folder.
    pub(crate) fn files(&self) -> impl Iterator<Item = (String, &Path)> {
        self.files.values().map(|path| {
            let name = path.strip_prefix(&self.root).unwrap();
            (name.display().to_string(), path.as_path())
        })
    }
}
