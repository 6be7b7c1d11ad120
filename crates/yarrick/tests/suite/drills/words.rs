//! The guide lists the words that the code declares.

use yarrick::drill::Word;
use yarrick::world::vocabulary;

#[test]
fn the_guide_lists_every_word_as_it_is_declared() {
    let guide = include_str!("../../../../../docs/guide/9-drills.md");
    let words = vocabulary(&[]).unwrap();
    for (title, declared) in [
        ("Steps", words.steps().map(row).collect::<Vec<_>>()),
        ("Senses", words.senses().map(row).collect()),
        ("Tests", words.tests().map(row).collect()),
    ] {
        let (_, section) = guide.split_once(&format!("## {title}\n")).unwrap();
        let (section, _) = section.split_once("\n## ").unwrap();
        let rows = section.lines().filter(|line| line.starts_with("| `"));
        assert_eq!(
            rows.collect::<Vec<_>>(),
            declared,
            "docs/guide/9-drills.md, {title}"
        );
    }
}

/// A word as a row of the guide.
fn row(word: &Word) -> String {
    // A bar would end the column.
    let usage = word.usage().replace('|', "\\|");
    format!("| `{usage}` | {} |", word.about())
}
