//! Steps that lead into nothing.

use proptest::prelude::*;
use yarrick::Vec2;
use yarrick::geom::Rect;
use yarrick::ground::GroundView;
use yarrick::ground::{Ground, Terrain};
use yarrick::motion::{Bodies, Contacts, Turns};
use yarrick::motion::{Crowd, Limit, nearest_step, step_between};
use yarrick::near::Near;

/// The most by which bodies may overlap, as a part of the smaller radius.
const OVERLAP: f32 = 0.03;

fn limits() -> impl Strategy<Value = Vec<Limit>> {
    let limit = (0.0_f32..6.3, 0.0_f32..1.0).prop_map(|(angle, room)| Limit {
        toward: yarrick::geom::angle::direction(angle),
        room,
    });
    proptest::collection::vec(limit, 0..9)
}

/// Whom each would come upon that goes no farther than its step.
fn contacts(
    at: &[Vec2],
    steps: &[Vec2],
    radii: &[f32],
    (near, view): (&Near, GroundView<'_>),
) -> Contacts {
    let count = at.len();
    let limits: Vec<f32> = steps.iter().map(|step| step.length()).collect();
    let bodies = Bodies {
        at,
        steps,
        radii,
        widest: 0.45,
        limits: &limits,
        farthest: 0.45,
        turns: Turns {
            remaining_m: &vec![0.0; count],
            groups: &vec![0; count],
        },
        sides: &vec![0; count],
        oncoming: &vec![false; count],
    };
    let mut contacts = Contacts::default();
    for who in 0..count as u32 {
        contacts.find(&bodies, near, who, &vec![true; count]);
        contacts.find_walls(&bodies, view, who);
    }
    contacts
}

proptest! {
    #[test]
    fn no_allowed_step_is_nearer_than_the_one_taken(
        limits in limits(), wanted in (-1.0_f32..1.0, -1.0_f32..1.0),
        others in proptest::collection::vec((-1.0_f32..1.0, -1.0_f32..1.0), 40),
    ) {
        let wanted = Vec2::new(wanted.0, wanted.1);
        let taken = nearest_step(wanted, &limits);
        prop_assert!(limits.iter().all(|limit| limit.toward.dot(taken) <= limit.room + 1e-4));
        for (x, y) in others {
            let other = Vec2::new(x, y);
            if limits.iter().all(|limit| limit.toward.dot(other) <= limit.room) {
                prop_assert!(taken.distance(wanted) <= other.distance(wanted) + 1e-3);
            }
        }
    }

    #[test]
    fn in_a_random_crowd_nobody_gets_into_another_or_a_wall(
        seeds in proptest::collection::vec((0.5_f32..7.5, 0.5_f32..7.5, 0.1_f32..0.45), 2..30),
        steps in proptest::collection::vec((-0.3_f32..0.3, -0.3_f32..0.3), 30),
        walls in proptest::collection::vec(proptest::bool::weighted(0.1), 64),
    ) {
        let terrains = vec![Terrain::open("sand"), Terrain::closed("dyke")];
        let classes = walls.iter().map(|&closed| u8::from(closed)).collect();
        let Ok(ground) = Ground::new(8, 8, 1.0, terrains, classes) else {
            return Ok(());
        };
        let (mut at, mut radii): (Vec<Vec2>, Vec<f32>) = (Vec::new(), Vec::new());
        for (x, y, radius) in seeds {
            let place = Vec2::new(x, y);
            let apart = |k: usize| at[k].distance(place) > radii[k] + radius;
            if (0..at.len()).all(apart) && ground.disc_is_clear(place, radius) {
                at.push(place);
                radii.push(radius);
            }
        }
        let mut near = Near::default();
        near.rebuild(Rect::from_corners(Vec2::ZERO, Vec2::splat(8.0)), 1.0, &at);
        let steps: Vec<Vec2> = steps.into_iter().map(Vec2::from).take(at.len()).collect();
        let contacts = contacts(&at, &steps, &radii, (&near, ground.on_foot()));
        for who in 0..at.len() {
            let crowd = Crowd { at: &at, radii: &radii, widest: 0.45, drift: 0.9 };
            let wanted = at[who] + steps[who];
            let to = step_between(&crowd, &near, ground.on_foot(), who as u32, wanted);
            prop_assert!(contacts.meets_any(who as u32) || to.distance(wanted) < 1e-5);
            prop_assert!(ground.line_is_clear(at[who], to, radii[who]));
            at[who] = to;
            for other in (0..at.len()).filter(|other| *other != who) {
                let apart = radii[who] + radii[other];
                let slack = (OVERLAP + 1e-3) * radii[who].min(radii[other]);
                prop_assert!(at[who].distance(at[other]) >= apart - slack);
            }
        }
    }
}
