//! The machine on a host of its own, without any world.

use std::cell::RefCell;
use yarrick::drill::{
    Begun, Change, Gives, Held, Host, Machine, Program, STEP_LIMIT, Senses, Unit, Value,
    Vocabulary, Why, Word, compile,
};

/// A host that takes down all that it is asked.
struct Post {
    water: f32,
    foe: Option<u64>,
    gone: Vec<u64>,
    done: Vec<String>,
    asked: RefCell<u32>,
    dial: Option<f32>,
}

impl Post {
    fn new() -> Post {
        Post {
            water: 0.0,
            foe: None,
            gone: Vec::new(),
            done: Vec::new(),
            asked: RefCell::new(0),
            dial: None,
        }
    }
}

impl Senses for Post {
    fn sense(&self, word: u16, values: &[Value]) -> Value {
        match (word, values) {
            (0, _) => Value::Number(self.water),
            (_, [Value::Unit(_)]) => Value::Number(self.water * 10.0),
            _ => Value::Nothing,
        }
    }

    fn test(&self, _: u16, _: &[Value]) -> Held {
        *self.asked.borrow_mut() += 1;
        self.foe.map_or(Held::No, |foe| Held::Yes(Some(foe)))
    }

    fn is_gone(&self, unit: u64) -> bool {
        self.gone.contains(&unit)
    }

    fn dial(&self, _: u16, _: u16) -> Option<f32> {
        self.dial
    }

    fn chance(&self, nth: u32) -> f32 {
        nth as f32 * 0.125 % 1.0
    }

    fn ticks_per_second(&self) -> u32 {
        20
    }
}

impl Host for Post {
    fn begin(&mut self, word: u16, values: &[Value]) -> Begun {
        let value = match values.first() {
            Some(Value::Number(number)) => format!(" {number}"),
            Some(Value::Unit(unit)) => format!(" #{unit}"),
            _ => String::new(),
        };
        self.done.push(format!(
            "{}{value}",
            ["rest", "run", "hop"][usize::from(word)]
        ));
        Begun::Lasts
    }

    fn stop(&mut self) {
        self.done.push("stop".to_owned());
    }

    fn changed(&mut self, change: &Change) {
        self.done.push(format!("to {}", change.to));
    }
}

fn words() -> Vocabulary {
    let words = vec![
        Word::sense("water", Gives::Number(Unit::Metres), ""),
        Word::sense("gap to {unit}", Gives::Number(Unit::Metres), ""),
        Word::test("sees {who}", true, ""),
        Word::step("rest", 0, true, ""),
        Word::step("run from {unit}", 1, true, ""),
        Word::step("hop {s}", 0, false, ""),
    ];
    Vocabulary::new(words, &[], &["foe"]).unwrap()
}

fn program(text: &str) -> Program {
    compile(text, &words()).unwrap_or_else(|errors| panic!("{errors}"))
}

fn run(program: &Program, post: &mut Post, ticks: core::ops::Range<u64>, machine: &mut Machine) {
    for now in ticks {
        machine.think(program, now, post);
    }
}

#[test]
fn steps_come_one_after_another_and_rules_at_their_interval() {
    let program = program(
        "drill a controls legs\n  dial pause = 0.5 s in 0 s .. 9 s\n  start state one, every 1 s\n    hop 0.25 s\n    wait pause\n    hop pause\n    rest\n    hop 9 s\n    when water > 1 m -> two\n  state two\n    rest\n",
    );
    let mut post = Post::new();
    let mut machine = Machine::new(&program, 0, 0, 0.5, &post).unwrap();
    run(&program, &mut post, 0..10, &mut machine);
    assert_eq!(post.done, ["hop 0.25"]);
    run(&program, &mut post, 10..20, &mut machine);
    assert_eq!(post.done[1..], ["hop 0.5", "rest"]);
    machine.step_ended();
    post.water = 2.0;
    // Checked in tick 10 and every 20 after that.
    run(&program, &mut post, 20..30, &mut machine);
    assert_eq!(post.done[3..], ["hop 9"]);
    run(&program, &mut post, 30..31, &mut machine);
    assert_eq!(post.done[4..], ["to 1", "rest"]);
    let change = machine.last_change().unwrap();
    let Why::Rule { measured, took, .. } = change.why else {
        panic!()
    };
    assert_eq!((change.at, measured[0], took), (30, 2.0, None));
    // A dial that was set counts, within what is allowed.
    let mut post = Post::new();
    post.dial = Some(50.0);
    let mut machine = Machine::new(&program, 0, 0, 0.5, &post).unwrap();
    run(&program, &mut post, 0..181, &mut machine);
    assert_eq!(post.done[1], "hop 9");
}

#[test]
fn a_memory_is_emptied_when_its_unit_is_gone_and_the_state_on_it_ends() {
    let program = program(
        "drill a controls legs\n  memory threat: unit\n  start state calm, every 0.1 s\n    rest\n    when sees foe as threat -> bolt\n  state bolt on threat, else calm, every 5 s\n    run from threat\n    when gap to threat > 100 m -> calm\n",
    );
    let mut post = Post::new();
    let mut machine = Machine::new(&program, 0, 0, 0.5, &post).unwrap();
    post.foe = Some(7);
    run(&program, &mut post, 0..3, &mut machine);
    assert_eq!(post.done, ["rest", "stop", "to 1", "run #7"]);
    assert_eq!(machine.remembered().collect::<Vec<_>>(), [7]);
    (post.foe, post.gone) = (None, vec![7]);
    run(&program, &mut post, 3..4, &mut machine);
    assert_eq!(post.done[4..], ["stop", "to 0", "rest"]);
    assert_eq!(machine.last_change().unwrap().why, Why::Gone);
    assert_eq!(machine.remembered().count(), 0);
    // Nothing is known of an empty memory: neither the test nor its opposite holds.
    let views = machine.explain(&program, &post);
    assert_eq!(views[0].holds, Some(false));
    assert_eq!(
        (views[0].line, views[0].text.as_str()),
        (5, "when sees foe as threat -> bolt")
    );
}

#[test]
fn what_is_unknown_does_not_hold_and_neither_does_its_opposite() {
    let program = program(
        "drill a controls legs\n  memory mark: unit\n  start state one, every 0.05 s\n    rest\n    when not gap to mark > 1 m -> two\n    when gap to mark > 1 m or gap to mark < 2 m -> two\n    when mark is empty and water > 5 m -> two\n  state two\n    rest\n    when sees foe as mark -> one\n",
    );
    let mut post = Post::new();
    let mut machine = Machine::new(&program, 0, 0, 0.0, &post).unwrap();
    run(&program, &mut post, 0..50, &mut machine);
    assert_eq!(machine.state(), 0);
    let holds: Vec<Option<bool>> = machine
        .explain(&program, &post)
        .iter()
        .map(|rule| rule.holds)
        .collect();
    assert_eq!(holds, [None, None, Some(false)]);
    post.water = 6.0;
    run(&program, &mut post, 50..52, &mut machine);
    assert_eq!(machine.state(), 1);
}

#[test]
fn conditions_stop_where_they_are_decided() {
    let program = program(
        "drill a controls legs\n  start state one, every 0.05 s\n    rest\n    when water > 5 m and sees foe -> one\n    when water < 5 m or sees foe -> one\n",
    );
    let mut post = Post::new();
    let mut machine = Machine::new(&program, 0, 0, 0.0, &post).unwrap();
    run(&program, &mut post, 0..40, &mut machine);
    assert_eq!(*post.asked.borrow(), 0);
}

#[test]
fn a_machine_does_so_many_steps_in_a_tick_and_one_change_of_state() {
    let hops = "    hop 1 s\n".repeat(STEP_LIMIT as usize + 5);
    let program = program(&format!(
        "drill a controls legs\n  start state one\n{hops}    -> two\n  state two\n    hop 2 s\n    -> three\n  state three\n    rest\n"
    ));
    let mut post = Post::new();
    let mut machine = Machine::new(&program, 0, 0, 0.9, &post).unwrap();
    run(&program, &mut post, 0..1, &mut machine);
    assert_eq!(post.done.len(), STEP_LIMIT as usize);
    run(&program, &mut post, 1..2, &mut machine);
    assert_eq!(post.done[STEP_LIMIT as usize..].len(), 5 + 2);
    run(&program, &mut post, 2..3, &mut machine);
    assert_eq!(post.done.last().unwrap(), "rest");
}

#[test]
fn one_that_sleeps_begins_its_state_anew_and_can_be_saved_at_any_time() {
    let program = program("drill a controls legs\n  start state one\n    hop 1 s\n    rest\n");
    let mut post = Post::new();
    let mut machine = Machine::new(&program, 0, 0, 0.9, &post).unwrap();
    run(&program, &mut post, 0..5, &mut machine);
    machine.sleep();
    run(&program, &mut post, 5..9, &mut machine);
    assert_eq!(post.done, ["hop 1", "rest"]);
    let bytes = postcard::to_stdvec(&machine).unwrap();
    let mut again: Machine = postcard::from_bytes(&bytes).unwrap();
    assert!(again.fits(&program) && again == machine);
    again.wake(&program, 9);
    run(&program, &mut post, 9..10, &mut again);
    assert_eq!(post.done[2..], ["hop 1", "rest"]);
    assert!(!again.fits(&Program::default()));
}

#[test]
fn words_that_make_no_sense_are_refused() {
    let bad = |word: Word| {
        Vocabulary::new(vec![word], &[], &[])
            .unwrap_err()
            .to_string()
    };
    assert!(bad(Word::step("{unit} runs", 0, true, "")).contains("begins with a slot"));
    assert!(bad(Word::step("run {far}", 0, true, "")).contains("no such slot"));
    assert!(bad(Word::step("Run", 0, true, "")).contains("small letters"));
    assert!(bad(Word::step("run", 0, true, "").with("at {m} or {m}")).contains("one slot"));
    let many = "run {m} {m} {m} {m} {m} {m} {m} {m} {m}";
    assert!(bad(Word::step(many, 0, true, "")).contains("too many"));
}

#[test]
fn a_rule_with_for_must_hold_at_each_check_for_as_long() {
    let program = program(
        "drill wader controls legs
  start state feed, every 0.1 s
    rest
    when water > 0.5 m for 1 s -> away
  state away
    rest
",
    );
    let mut post = Post::new();
    let mut machine = Machine::new(&program, 0, 0, 0.0, &post).unwrap();
    // High for 0.9 s, low at one check, high again: the time begins anew.
    for (ticks, water) in [(0..19, 0.8), (19..21, 0.2), (21..41, 0.8)] {
        post.water = water;
        run(&program, &mut post, ticks, &mut machine);
        assert_eq!(machine.state(), 0);
    }
    run(&program, &mut post, 41..43, &mut machine);
    assert_eq!(machine.state(), 1);
    assert_eq!(machine.last_change().unwrap().at, 42);
}
