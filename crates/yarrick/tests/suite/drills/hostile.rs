//! Texts that nobody would write: no panic, no hang.

use proptest::prelude::*;
use yarrick::drill::compile;
use yarrick::world::vocabulary;

/// Words and signs of the language, in any order.
fn token() -> impl Strategy<Value = &'static str> {
    prop::sample::select(vec![
        "drill", "controls", "legs", "arms", "based", "on", "dial", "=", "8 m", "..", "in",
        "memory", ":", "unit", "point", "start", "state", "every", "0.2 s", "when", "sees", "foe",
        "within", "as", "->", "a", "b", "c", "and", "or", "not", "gap", "to", ">", "<", "health",
        "50%", "is", "empty", "repeat", "wait", "set", "here", "go", "goal", "flee", "strike", ",",
        "else", "always", "except", "\"x\"", "\n", "\n  ", "\n    ", "\n      ", "\t", "#", "-",
        "9", "é",
    ])
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 600, failure_persistence: None, ..ProptestConfig::default() })]

    #[test]
    fn random_tokens_are_read_or_refused(tokens in proptest::collection::vec(token(), 0..80)) {
        let words = vocabulary(&[]).unwrap();
        let text = tokens.join(" ");
        if let Err(errors) = compile(&text, &words) {
            prop_assert!(!errors.list().is_empty());
            for error in errors.list() {
                prop_assert!(text.get(error.bytes.clone()).is_some(), "{:?}", error.bytes);
            }
            let _ = errors.to_string();
        }
    }

    #[test]
    fn random_text_is_read_or_refused(text in "\\PC{0,200}|[ -~\\n\\t]{0,300}") {
        let words = vocabulary(&[]).unwrap();
        if let Err(errors) = compile(&text, &words) {
            let _ = errors.to_string();
        }
    }
}

#[test]
fn deep_long_and_large_texts_end_in_errors() {
    let words = vocabulary(&[]).unwrap();
    let mut deep = "drill a controls legs\n  start state b\n".to_owned();
    for depth in 0..2000 {
        deep += &format!("{}repeat\n", " ".repeat(4 + depth));
    }
    assert!(compile(&deep, &words).is_err());
    let nots = format!(
        "drill a controls legs\n  start state b\n    when {}was hit -> b\n",
        "not ".repeat(50_000)
    );
    assert!(compile(&nots, &words).is_ok());
    let large = " ".repeat(yarrick::drill::MAX_TEXT_BYTES + 1);
    assert!(compile(&large, &words).is_err());
    let states: String = (0..400)
        .map(|k| format!("  state s{k}\n    wander\n"))
        .collect();
    let many = format!("drill a controls legs\n  start state z\n{states}");
    let errors = compile(&many, &words).unwrap_err().to_string();
    assert!(errors.contains("at most 256 states"), "{errors}");
}
