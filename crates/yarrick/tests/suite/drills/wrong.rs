//! A corpus of wrong texts: each gives the error meant and no other.

use yarrick::drill::compile;
use yarrick::world::vocabulary;

const SOUND: &str = r#"drill skittish controls legs
  dial alarm = 8 m in 3 m .. 15 m     # how near is too near
  dial calm = 14 m in 5 m .. 30 m
  memory threat: unit

  start state graze, every 0.5 s
    wander at 40%
    when sees foe within alarm as threat -> bolt

  state bolt on threat, else graze, every 0.2 s
    cue "rattle"
    flee threat
    when gap to threat > calm and not was hit -> graze

drill tower controls arms
  memory mark: unit
  start state watch
    when any foe "nipper" within reach as mark -> fire
    when time in state > 5 s or health < 50% -> watch

  state fire on mark, else watch
    repeat
      strike mark
      wait 0.5 s
    when mark is empty -> watch
"#;

/// The sound text with one piece changed, and the lines of it that are reported.
const CASES: [(&str, &str); 52] = [
    // Words and signs.
    ("wander at 40%", "wonder at 40%"),
    ("wander at 40%", "wander at 40"),
    ("wander at 40%", "wander at 40 m"),
    ("wander at 40%", "wander by 40%"),
    ("wander at 40%", "Wander at 40%"),
    ("wander at 40%", "wander at"),
    ("wander at 40%", "wander at 40%, at 50%"),
    ("flee threat", "flee"),
    ("flee threat", "flee treat"),
    ("flee threat", "flee alarm"),
    ("flee threat", "flee threat!"),
    ("flee threat", "flee threat\n      wander"),
    ("cue \"rattle\"", "cue rattle"),
    ("cue \"rattle\"", "cue \"rattle"),
    ("  memory threat: unit", "\tmemory threat: unit"),
    ("    wander at 40%", "   wander at 40%"),
    // Drills.
    ("drill skittish controls legs", "drill skittish"),
    (
        "drill skittish controls legs",
        "drill skittish controls wings",
    ),
    (
        "drill skittish controls legs",
        "drill skittish based on towre controls legs",
    ),
    ("drill tower controls arms", "drill skittish controls arms"),
    ("drill tower controls arms", "drill tower controls legs"),
    ("drill tower controls arms", "dril tower controls arms"),
    // Dials.
    ("alarm = 8 m in", "alarm = 8 s in"),
    ("alarm = 8 m in", "alarm = 2 m in"),
    ("3 m .. 15 m ", "15 m .. 3 m "),
    (
        "dial calm = 14 m in 5 m .. 30 m",
        "dial calm = 14 m\n  dial calm = 3 m",
    ),
    ("dial calm = 14 m in 5 m .. 30 m", "dial calm 14 m"),
    ("dial calm = 14 m in 5 m .. 30 m", "dail calm = 14 m"),
    ("> calm", "> clam"),
    // Memories.
    ("memory threat: unit", "memory threat: person"),
    ("memory threat: unit", "memory thread: unit"),
    ("as threat", "as alarm"),
    ("within alarm as threat", "within alarm"),
    (
        "when any foe \"nipper\" within reach as mark",
        "when was hit and health < 5% as mark",
    ),
    ("when mark is empty", "when mork is empty"),
    ("and not was hit", "and not was hit for 3 m"),
    ("and not was hit", "and not was hit for 0 s"),
    ("and not was hit", "and not was hit for soon"),
    // States and rules.
    ("start state graze", "state graze"),
    ("state bolt on", "start state bolt on"),
    ("drill tower", "  state graze\n    wander\n\ndrill tower"),
    ("as threat -> bolt", "as threat -> blot"),
    ("as threat -> bolt", "as threat bolt"),
    ("as threat -> bolt", "as threat -> bolt now"),
    ("every 0.5 s", "every 0.5 m"),
    ("else graze", "else grave"),
    // Conditions.
    ("gap to threat > calm", "gap to threat > 5 s"),
    ("gap to threat > calm", "gap to threat"),
    ("sees foe within", "sees fox within"),
    ("health < 50%", "health < 50"),
    ("not was hit", "not"),
    // What never rests.
    ("      strike mark\n      wait 0.5 s", "      cue \"a\""),
];

#[test]
fn the_sound_text_is_sound() {
    let words = vocabulary(&[]).unwrap();
    let program = compile(SOUND, &words).unwrap_or_else(|errors| panic!("{errors}"));
    assert_eq!(program.drills.len(), 2);
}

#[test]
fn each_wrong_text_gives_the_error_that_is_meant_and_no_other() {
    let words = vocabulary(&[]).unwrap();
    let mut report = String::new();
    for (from, to) in CASES {
        assert!(SOUND.contains(from), "{from}");
        let text = SOUND.replacen(from, to, 1);
        let line = |text: &str| text.replace('\n', " ⏎ ");
        report += &format!("{}  →  {}\n", line(from), line(to));
        match compile(&text, &words) {
            Ok(_) => report += "sound\n",
            Err(errors) => report += &errors.to_string(),
        }
        report.push('\n');
    }
    insta::assert_snapshot!(report);
}

#[test]
fn all_errors_of_a_text_come_at_once_from_top_to_bottom() {
    let words = vocabulary(&[]).unwrap();
    let mut text = SOUND.to_owned();
    for (from, to) in [
        ("wander", "wonder"),
        ("flee threat", "flee"),
        ("strike mark", "strike"),
        ("else graze", "else grave"),
    ] {
        text = text.replacen(from, to, 1);
    }
    let errors = compile(&text, &words).unwrap_err();
    let lines: Vec<usize> = errors
        .list()
        .iter()
        .map(|error| errors.position(error.bytes.start).0)
        .collect();
    assert_eq!(lines, [7, 10, 12, 23]);
}

#[test]
fn states_that_lead_on_at_once_in_a_circle_are_refused() {
    let words = vocabulary(&[]).unwrap();
    let text = "drill a controls legs\n  start state one\n    cue \"a\"\n    -> two\n  state two\n    -> one\n";
    let errors = compile(text, &words).unwrap_err();
    assert_eq!(errors.list().len(), 1);
    assert!(errors.to_string().contains("one → two → one"), "{errors}");
    // With a step between that takes time it may.
    let rests = text.replace("    -> two", "    wait 1 s\n    -> two");
    assert!(compile(&rests, &words).is_ok());
}
