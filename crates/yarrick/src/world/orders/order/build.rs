//! Reserving a site for a building, and building there.

use super::checks::{builders, flaw_of_points};
use super::{Effect, OrderKind};
use crate::geom::{angle, canonical};
use crate::world::message::{Action, Event, MAX_FACING, Refusal};
use crate::world::sites::{NotReserved, reserve};
use crate::world::state::{NoEntry, Pose};

pub(super) const ORDER: OrderKind = OrderKind {
    word: "build",
    keys: &["kind", "point", "facing", "facing_rad"],
    read: |reader| {
        let (kind, at) = (reader.kind(), reader.point());
        let facing = reader.angle("facing", "facing_rad");
        Some(Action::Build {
            kind: kind?,
            at: at?,
            facing: facing?.unwrap_or(0.0),
        })
    },
    write: |action, writer| {
        if let Action::Build { kind, at, facing } = action {
            writer.kind(*kind);
            writer.point(*at);
            writer.key("facing_rad", &format!("{facing:?}"));
        }
    },
    flaw: |state, _, action| {
        let Action::Build { kind, at, facing } = action else {
            return None;
        };
        let is_known = usize::from(kind.0) < state.rules.kinds.len();
        let is_turned = facing.abs() <= MAX_FACING;
        (!is_known)
            .then_some(Refusal::NoSuchKind)
            .or_else(|| flaw_of_points(&[*at]))
            .or((!is_turned).then_some(Refusal::BadPoint))
    },
    check: builders,
    effect: Effect::Becomes(|dispatch, side, action| {
        let Action::Build { kind, at, facing } = action else {
            return Err(Refusal::NothingToDo);
        };
        let pose = Pose {
            position: canonical(*at),
            facing: angle::wrap(*facing),
        };
        // Sites of the same tick are not filed yet, but buildings are looked up by themselves.
        let near = Some(&dispatch.scratch.near);
        let site = reserve(dispatch.state, near, (*kind, side), pose);
        let site = site.map_err(|why| match why {
            NotReserved::Objection(objection) => Refusal::Site(objection),
            NotReserved::NoEntry(NoEntry::Full) => Refusal::WorldFull,
            NotReserved::NoEntry(NoEntry::NoRoom(why)) => Refusal::NoRoom(why),
            NotReserved::NoEntry(NoEntry::Kind) => Refusal::NoSuchKind,
            NotReserved::NoEntry(NoEntry::Side) => Refusal::NoSuchSide,
            NotReserved::NoEntry(NoEntry::NotFinite) => Refusal::BadPoint,
        })?;
        dispatch.minds.add(dispatch.state);
        dispatch.scratch.near_is_stale = true;
        let kind = *kind;
        dispatch.events.push(Event::SiteReserved { site, kind });
        Ok(Action::Construct { target: site })
    }),
};
