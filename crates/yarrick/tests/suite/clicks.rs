//! One click, the order that fits it: for each unit by its abilities, by rules that are data; with
//! previews and rally points; and who may command whom.

use crate::doors::Doors as _;
use crate::flats::{
    DUNERS, Flats, KEEPERS, NOBODY, REEDFOLK, TIDE, attack_move, failed, ground, move_to, patrol,
    refusals,
};
use yarrick::world::{
    Ability, Aspect, ContextRule, ContextRules, Failure, MAX_PATROL_POINTS, MAX_QUEUED, Refusal,
    Stance,
};
use yarrick::{Action, Event, Outcome, Scenario, SideId, Spot, UnitId, Vec2, Verb, When};

fn context(at: Spot) -> Action {
    Action::Context { at }
}

/// What an order came to, for how many.
fn became(events: &[Event]) -> Vec<(Verb, u32)> {
    let ordered = events.iter().find_map(|event| match event {
        Event::Ordered { became, .. } => Some(became.clone()),
        _ => None,
    });
    ordered.expect("somebody took it up")
}

/// Everybody, on open sand: a raker, a warden, a tower and a yard of the keepers, and others.
struct Everybody {
    flats: Flats,
    raker: UnitId,
    warden: UnitId,
    tower: UnitId,
    yard: UnitId,
    foe: UnitId,
    friend: UnitId,
    ally: UnitId,
    bird: UnitId,
    pan: UnitId,
}

impl Everybody {
    fn new() -> Everybody {
        let mut flats = Flats::open(50);
        Everybody {
            raker: flats.put("raker", KEEPERS, 10.0, 10.0),
            warden: flats.put("warden", KEEPERS, 12.0, 10.0),
            tower: flats.put("sling tower", KEEPERS, 15.0, 10.0),
            yard: flats.put("yard", KEEPERS, 20.0, 10.0),
            foe: flats.put("hulk", TIDE, 40.0, 40.0),
            friend: flats.put("slinger", KEEPERS, 10.0, 20.0),
            ally: flats.put("warden", DUNERS, 15.0, 20.0),
            bird: flats.put("pilferer", NOBODY, 20.0, 20.0),
            pan: flats.put("pan", NOBODY, 25.0, 20.0),
            flats,
        }
    }

    fn squad(&self) -> [UnitId; 4] {
        [self.raker, self.warden, self.tower, self.yard]
    }
}

#[test]
fn one_click_becomes_for_each_what_it_can_do() {
    use {Refusal::NothingToDo, Verb::*};
    let here = Everybody::new();
    for (at, shares, refused) in [
        (
            ground(30.0, 30.0),
            vec![(Move, 2), (Rally, 1)],
            vec![NothingToDo],
        ),
        (
            Spot::Unit(here.foe),
            vec![(Move, 1), (Attack, 2), (Rally, 1)],
            vec![],
        ),
        (
            Spot::Unit(here.friend),
            vec![(Follow, 2), (Rally, 1)],
            vec![NothingToDo],
        ),
        (
            Spot::Unit(here.ally),
            vec![(Follow, 2), (Rally, 1)],
            vec![NothingToDo],
        ),
        (
            Spot::Unit(here.pan),
            vec![(Approach, 2), (Rally, 1)],
            vec![NothingToDo],
        ),
        (
            Spot::Unit(here.bird),
            vec![(Approach, 2), (Rally, 1)],
            vec![NothingToDo],
        ),
        (
            Spot::Unit(here.yard),
            vec![(Approach, 2), (Rally, 1)],
            vec![NothingToDo],
        ),
    ] {
        let mut now = Everybody::new();
        now.flats.order(&now.squad(), context(at));
        let events = now.flats.run(0.05);
        assert_eq!(became(&events), shares, "{at:?}");
        assert_eq!(refusals(&events), refused, "{at:?}");
        let ordered = |event: &&Event| matches!(event, Event::Ordered { .. });
        assert_eq!(
            events.iter().filter(ordered).count(),
            1,
            "one event an order"
        );
        // The preview says the same, and changes nothing.
        let preview = here
            .flats
            .world
            .preview(KEEPERS, &here.squad(), at, None)
            .unwrap();
        let able = preview.shares.iter().filter(|(verb, _)| *verb != Nothing);
        let reported: Vec<(Verb, u32)> =
            able.map(|(verb, who)| (*verb, who.len() as u32)).collect();
        let mut sorted = shares.clone();
        sorted.sort_by_key(|(verb, _)| reported.iter().position(|(known, _)| known == verb));
        assert_eq!(reported, sorted, "{at:?}");
        // Nobody who cannot move was walked.
        now.flats.run(3.0);
        assert_eq!(now.flats.at(now.tower), Vec2::new(15.0, 10.0));
        assert_eq!(now.flats.at(now.yard), Vec2::new(20.0, 10.0));
    }
}

#[test]
fn the_rules_are_data_that_a_game_can_change() {
    let raker_guards = ContextRule {
        on: Aspect::Friend,
        who: Some(Ability::Works),
        verb: Verb::Guard,
    };
    let nobody_follows = ContextRule {
        on: Aspect::Friend,
        who: None,
        verb: Verb::Nothing,
    };
    let rules = ContextRules::default().after([raker_guards, nobody_follows]);
    let here = Everybody::new();
    let kind = |name| {
        let id = here.flats.world.kind(name).unwrap();
        &here.flats.world.kinds()[usize::from(id.0)]
    };
    assert_eq!(rules.verb(Aspect::Friend, kind("raker")), Verb::Guard);
    assert_eq!(rules.verb(Aspect::Friend, kind("warden")), Verb::Nothing);
    assert_eq!(rules.verb(Aspect::Foe, kind("warden")), Verb::Attack);

    // The same from a scenario file.
    let scenario = Scenario::parse(
        r#"
        [scenario]
        title = "Hands off"
        [ground]
        rows = ["....................", "...................."]
        legend = { "." = { name = "sand" } }
        [[side]]
        name = "keepers"
        [[kind]]
        name = "raker"
        rank = "worker"
        radius = 0.4
        speed = 2
        [[unit]]
        name = "Orla"
        kind = "raker"
        side = "keepers"
        at = [1, 1]
        [[unit]]
        name = "Tam"
        kind = "raker"
        side = "keepers"
        at = [6, 1]
        [[click]]
        on = "friend"
        who = "works"
        order = "guard"
        [[script]]
        time = 0.1
        side = "keepers"
        order = "context"
        units = ["Orla"]
        target = "Tam"
        "#,
    );
    let mut play = scenario.unwrap().play(None).unwrap();
    play.run_until(1.0, |_, _| {});
    let orla = play.world().units().next().unwrap();
    assert_eq!(orla.current_order().unwrap().word(), "guard");
}

#[test]
fn rally_points_are_set_queued_taken_away_and_outlive_what_they_are_on() {
    let mut here = Everybody::new();
    let (yard, friend) = (here.yard, here.friend);
    let rally = |to| Action::Rally { to };
    here.flats.order(&[yard], rally(ground(30.0, 30.0)));
    here.flats.order_then(&[yard], rally(Spot::Unit(friend)));
    here.flats.run(0.05);
    let points = |flats: &Flats| flats.world.unit(yard).unwrap().rally_points().to_vec();
    assert_eq!(
        points(&here.flats),
        [ground(30.0, 30.0), Spot::Unit(friend)]
    );
    assert_eq!(
        here.flats.outcomes(yard),
        [(1, Outcome::Done), (2, Outcome::Done)]
    );

    // A newcomer goes to the first, then to what fits the second.
    let newcomer = here.flats.put("raker", KEEPERS, 22.0, 12.0);
    let actions = here.flats.world.rally_actions(yard, newcomer);
    let to = Vec2::new(30.0, 30.0);
    let target = friend;
    assert_eq!(actions, [Action::move_to(to), Action::follow(target)]);
    let tower = here.tower;
    assert_eq!(here.flats.world.rally_actions(yard, tower), []);

    let last = here.flats.at(friend);
    here.flats.world.remove(friend);
    here.flats.run(0.05);
    assert_eq!(
        points(&here.flats),
        [ground(30.0, 30.0), Spot::Ground(last)]
    );
    here.flats.order(&[yard], rally(Spot::Unit(yard)));
    let events = here.flats.run(0.05);
    assert!(points(&here.flats).is_empty());
    assert!(
        events
            .iter()
            .any(|event| matches!(event, Event::Rallied { to, .. } if to.is_empty()))
    );

    for _ in 0..MAX_QUEUED + 2 {
        here.flats.order_then(&[yard], rally(ground(1.0, 1.0)));
    }
    let raker = here.raker;
    here.flats.order(&[raker], rally(ground(1.0, 1.0)));
    let events = here.flats.run(0.05);
    use Refusal::{CannotRally, QueueFull};
    assert_eq!(refusals(&events), [QueueFull, QueueFull, CannotRally]);
}

#[test]
fn allies_obey_only_where_control_is_shared() {
    let mut flats = Flats::open(30);
    let ours = flats.put("warden", KEEPERS, 5.0, 5.0);
    let shared = flats.put("warden", REEDFOLK, 7.0, 5.0);
    let allied = flats.put("warden", DUNERS, 9.0, 5.0);
    let world = &flats.world;
    assert_eq!(world.stance(KEEPERS, REEDFOLK), Stance::Ally);
    assert_eq!(world.stance(DUNERS, KEEPERS), Stance::Ally);
    assert_eq!(world.stance(DUNERS, TIDE), Stance::Foe);
    assert_eq!(world.stance(TIDE, NOBODY), Stance::Neutral);
    assert_eq!(world.stance(KEEPERS, SideId(9)), Stance::Neutral);
    assert!(world.may_command(KEEPERS, REEDFOLK) && !world.may_command(REEDFOLK, KEEPERS));

    flats.order(&[ours, shared, allied], move_to(20.0, 20.0));
    let events = flats.run(0.05);
    assert_eq!(refusals(&events), [Refusal::NotYours]);
    flats.command(REEDFOLK, &[ours], Action::Stop, When::Now);
    assert_eq!(refusals(&flats.run(0.05)), [Refusal::NotYours]);
    flats.run(20.0);
    for unit in [ours, shared] {
        assert!(flats.at(unit).distance(Vec2::new(20.0, 20.0)) < 1.5);
    }
    flats.order(&[ours], Action::Attack { target: allied });
    assert_eq!(refusals(&flats.run(0.05)), [Refusal::NotAFoe]);
}

#[test]
fn orders_that_make_no_sense_are_refused_with_the_reason() {
    use Refusal::*;
    let mut here = Everybody::new();
    let gone = here.flats.put("raker", KEEPERS, 1.0, 1.0);
    here.flats.world.remove(gone);
    here.flats.run(0.1);
    let (warden, raker, tower, foe) = (here.warden, here.raker, here.tower, here.foe);
    let guard = |ward| Action::Guard { ward };
    let points = |count: usize| patrol(&vec![(5.0, 5.0); count], false);
    for (unit, action, why) in [
        (warden, Action::Attack { target: gone }, NoSuchTarget),
        (
            warden,
            Action::Attack {
                target: here.friend,
            },
            NotAFoe,
        ),
        (warden, Action::Attack { target: warden }, NotAFoe),
        (warden, Action::Attack { target: here.bird }, NotAFoe),
        (raker, Action::Attack { target: foe }, CannotStrike),
        (warden, Action::follow(warden), Itself),
        (warden, Action::approach(warden), Itself),
        (warden, Action::approach(gone), NoSuchTarget),
        (warden, guard(Spot::Unit(warden)), Itself),
        (warden, guard(Spot::Unit(foe)), IsAFoe),
        (warden, guard(Spot::Unit(gone)), NoSuchTarget),
        (warden, guard(ground(f32::NAN, 1.0)), BadPoint),
        (warden, attack_move(f32::INFINITY, 1.0), BadPoint),
        (warden, attack_move(1e9, 1.0), BadPoint),
        (warden, points(0), PatrolPoints),
        (warden, points(MAX_PATROL_POINTS + 1), PatrolPoints),
        (
            warden,
            patrol(&[(1.0, 1.0), (f32::NAN, 1.0)], true),
            BadPoint,
        ),
        (warden, context(Spot::Unit(gone)), NoSuchTarget),
        (warden, context(Spot::Unit(warden)), NothingToDo),
        (tower, attack_move(5.0, 5.0), CannotMove),
        (tower, guard(ground(5.0, 5.0)), CannotMove),
        (tower, Action::follow(raker), CannotMove),
        (tower, context(ground(5.0, 5.0)), NothingToDo),
        (
            warden,
            Action::Rally {
                to: ground(5.0, 5.0),
            },
            CannotRally,
        ),
    ] {
        let orders = |flats: &Flats| -> Vec<_> {
            let view = flats.world.unit(unit).unwrap();
            view.orders().map(|order| order.number()).collect()
        };
        let before = orders(&here.flats);
        here.flats.order(&[unit], action.clone());
        let events = here.flats.run(0.05);
        assert_eq!(refusals(&events), [why], "{action:?}");
        assert_eq!(orders(&here.flats), before);
    }
    let pan = here.flats.put("pan", TIDE, 5.0, 40.0);
    here.flats.order(&[warden], Action::Attack { target: pan });
    assert_eq!(refusals(&here.flats.run(0.05)), [CannotBeHarmed]);

    // A patrol takes so many points in all, those added later included.
    here.flats.order(&[warden], points(MAX_PATROL_POINTS - 1));
    here.flats.order_then(&[warden], points(1));
    here.flats.order_then(&[warden], points(1));
    assert_eq!(refusals(&here.flats.run(0.05)), [QueueFull]);
    let order = here.flats.world.unit(warden).unwrap().current_order();
    let route = order.unwrap().patrol().expect("it patrols");
    assert_eq!(route.posts.len(), MAX_PATROL_POINTS + 1);
}

#[test]
fn a_patrol_leaves_out_the_points_that_it_cannot_reach() {
    let mut flats = Flats::of(&["..........~....", "..........~....", "..........~...."]);
    let warden = flats.put("warden", KEEPERS, 1.0, 1.5);
    // Beyond the creek it goes as near as it can, but it is nearer already at the second point.
    flats.order(&[warden], patrol(&[(5.0, 1.5), (13.0, 1.5)], false));
    flats.run(12.0);
    assert!(flats.outcomes(warden).is_empty());
    let stuck = flats.put("warden", KEEPERS, 9.4, 0.6);
    flats.order(&[stuck], patrol(&[(13.0, 0.6)], false));
    flats.run(0.1);
    let [(_, Outcome::Failed { why })] = flats.outcomes(stuck)[..] else {
        panic!("{:?}", flats.outcomes(stuck));
    };
    assert!(matches!(why, Failure::NoWay(_)), "{why:?}");
    assert_ne!(Outcome::Failed { why }, failed(Failure::HeldUp));
}
