//! Going along some points over and over, and fighting on the way.

use super::checks::{flaw_of_points, walkers};
use super::{Effect, OrderKind, Prepare};
use crate::geom::Vec2;
use crate::world::activity::{Activity, Patrol, PatrolRoute};
use crate::world::message::{Action, MAX_PATROL_POINTS, Refusal, When};
use crate::world::orders::dispatch::has_room_for_posts;
use crate::world::state::{Destination, Place};

pub(super) const ORDER: OrderKind = OrderKind {
    word: "patrol",
    keys: &["point", "points", "round"],
    read: |reader| {
        let points = reader.points(MAX_PATROL_POINTS);
        let round = reader.flag("round", false);
        Some(Action::Patrol {
            points: points?,
            round: round?,
        })
    },
    write: |action, writer| {
        if let Action::Patrol { points, round } = action {
            writer.points(points);
            writer.key("round", &round.to_string());
        }
    },
    flaw: |_, _, action| match action {
        Action::Patrol { points, .. } if !(1..=MAX_PATROL_POINTS).contains(&points.len()) => {
            Some(Refusal::PatrolPoints)
        }
        Action::Patrol { points, .. } => flaw_of_points(points),
        _ => None,
    },
    check: |asked, action| {
        if let Action::Patrol { points, .. } = action
            && asked.when == When::Afterwards
            && !has_room_for_posts(asked.minds, asked.row, points.len())
        {
            return Err(Refusal::QueueFull);
        }
        walkers(asked, action)
    },
    effect: Effect::Activities(|prepare, action| match action {
        Action::Patrol { points, round } => patrols(prepare, points, *round),
        _ => Vec::new(),
    }),
};

fn patrols(prepare: &mut Prepare<'_>, points: &[Vec2], round: bool) -> Vec<Activity> {
    let home = |at| Destination {
        goal: at,
        place: Ok(Place::alone(at)),
    };
    let routes = prepare.members.iter().map(|member| PatrolRoute {
        posts: vec![home(member.from)],
        round,
    });
    let mut routes: Vec<PatrolRoute> = routes.collect();
    for &point in points {
        let posts = prepare.places_at(point);
        for (route, post) in routes.iter_mut().zip(posts) {
            route.posts.push(post);
        }
    }
    let group = prepare.group;
    let patrol = |route| Activity::Patrol(Box::new(Patrol::new(group, route)));
    routes.into_iter().map(patrol).collect()
}
