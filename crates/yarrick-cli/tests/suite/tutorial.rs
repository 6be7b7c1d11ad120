//! The tutorial of the guide, done as it says, in an empty folder: its files are written, its commands run, and what they
//! print is compared with what the guide says.

use crate::command::outputs;
use std::fs;
use std::path::Path;
use std::process::Command;
use tempfile::TempDir;

const GUIDE: &str = include_str!("../../../../docs/guide/your-first-game.md");

/// What stands for lines that the guide leaves out.
const LEFT_OUT: &str = "…";

/// A block of the guide.
struct Block {
    /// What is in it: `toml`, `console` and the like.
    language: String,
    /// The last paragraph before it.
    said: String,
    lines: Vec<&'static str>,
}

fn blocks() -> Vec<Block> {
    let mut blocks = Vec::new();
    let (mut said, mut was_blank) = (String::new(), true);
    let mut lines = GUIDE.lines();
    while let Some(line) = lines.next() {
        if let Some(language) = line.strip_prefix("```") {
            blocks.push(Block {
                language: language.to_owned(),
                said: said.clone(),
                lines: lines.by_ref().take_while(|line| *line != "```").collect(),
            });
        } else if !line.is_empty() {
            if was_blank {
                said.clear();
            }
            said.push_str(line);
            said.push(' ');
        }
        was_blank = line.is_empty();
    }
    blocks
}

impl Block {
    fn text(&self) -> String {
        self.lines.join("\n") + "\n"
    }

    /// Writes the file that the paragraph before names, or adds to it.
    fn write(&self, folder: &Path) {
        let name = self.said.split('`').nth_back(1).unwrap();
        let path = folder.join(name);
        let there = fs::read_to_string(&path).unwrap_or_default();
        let text = match &self.said {
            said if said.contains("At the top of") => self.text() + "\n" + &there,
            said if said.to_lowercase().contains("add to") => there + "\n" + &self.text(),
            said => {
                assert!(said.contains("Write `"), "what is to be done? {said}");
                self.text()
            }
        };
        fs::create_dir_all(path.parent().unwrap()).unwrap();
        fs::write(path, text).unwrap();
    }

    /// Runs the commands, and compares what each prints.
    fn run(&self, folder: &Path) {
        let is_command = |line: &&str| line.starts_with("$ ");
        for (at, command) in self
            .lines
            .iter()
            .enumerate()
            .filter(|(_, line)| is_command(line))
        {
            let after = &self.lines[at + 1..];
            let expected: Vec<&str> = after
                .iter()
                .copied()
                .take_while(|line| !is_command(line))
                .collect();
            let words: Vec<&str> = command.split_whitespace().skip(1).collect();
            let printed = match words[..] {
                ["yarrick", ref arguments @ ..] => outputs(folder, arguments, 0).0,
                ["cargo", "run"] => run_example(folder),
                _ => panic!("{command}"),
            };
            let printed: Vec<&str> = printed.lines().collect();
            assert!(
                is_like(&printed, &expected),
                "{command}\nprints:\n{}\nthe guide says:\n{}",
                printed.join("\n"),
                expected.join("\n")
            );
        }
    }
}

/// Whether lines are those expected, of which some stand for any number of lines.
fn is_like(lines: &[&str], expected: &[&str]) -> bool {
    match expected {
        [] => lines.is_empty(),
        [LEFT_OUT, rest @ ..] => (0..=lines.len()).any(|from| is_like(&lines[from..], rest)),
        [first, rest @ ..] => lines.first() == Some(first) && is_like(&lines[1..], rest),
    }
}

/// Runs the program of the guide, which `cargo test` has built as an example.
fn run_example(folder: &Path) -> String {
    let test = std::env::current_exe().unwrap();
    let profile = test.parent().and_then(Path::parent).unwrap();
    let name = format!("your_first_game{}", std::env::consts::EXE_SUFFIX);
    let program = profile.join("examples").join(name);
    assert!(
        program.exists(),
        "run `cargo test` or `cargo build --examples` first"
    );
    let output = Command::new(program).current_dir(folder).output().unwrap();
    assert!(output.status.success());
    String::from_utf8(output.stdout).unwrap()
}

#[test]
fn the_tutorial_works_as_it_stands_in_an_empty_folder() {
    let folder = TempDir::new().unwrap();
    for block in blocks() {
        match block.language.as_str() {
            "toml" | "drill" | "rust" => block.write(folder.path()),
            "console" => block.run(folder.path()),
            other => panic!("a block of {other:?}: how is it to be tested?"),
        }
    }
}

#[test]
fn the_program_of_the_tutorial_is_the_example() {
    let example = include_str!("../../../yarrick/examples/your_first_game.rs");
    let programs = blocks()
        .into_iter()
        .filter(|block| block.language == "rust");
    let programs: Vec<String> = programs.map(|block| block.text()).collect();
    assert_eq!(programs, [example]);
}
