//! `[[kind]]`: what units there are.

use super::drills::{DialGiven, read_dials, read_drills, set_dials};
use super::error::{Diagnostic, Span};
use super::named::Named;
use super::resources::{Resources, read_amounts};
use super::table::{Context, Field, Table};
use super::ways::Gaits;
use crate::combat::Weapon;
use crate::drill::Program;
use crate::economy::{Price, ResourceId};
use crate::geom::Vec2;
use crate::ground::{ClearanceMap, GaitId, Ground};
use crate::world::{Body, DrillUse, Kind, KindId, MAX_KINDS, Number, Property, Rank, Sort};

/// What kinds may name.
#[derive(Clone, Copy)]
pub(super) struct Words<'a> {
    pub(super) gaits: &'a Gaits,
    pub(super) resources: &'a Resources,
    /// The drills; `None` where something is wrong with them.
    pub(super) program: Option<&'a Program>,
}

/// A kind as a file gives it: what is not given comes from the kind it is based on.
#[derive(Clone)]
pub(super) struct Draft {
    span: Span,
    radius_span: Span,
    based_on: Option<(String, Span)>,
    /// What is given, for each of [`Kind::properties`], by itself or by a kind that it is based on; and where, by itself.
    given: Vec<Option<Given>>,
    spans: Vec<Span>,
    /// Whether a value was given that could not be read: it is not missing then.
    flawed: bool,
    /// Whether that was the radius or the gait.
    no_body: bool,
}

/// The value of a property.
#[derive(Clone)]
enum Given {
    Number(f64),
    Pair(Vec2),
    Word(usize),
    Glyph(char),
    Flag(bool),
    Gait(GaitId),
    Amounts(Price),
    Resource(ResourceId),
    /// Kinds by name, and where each name stands: they may come later in the files.
    Kinds(Vec<(String, Span)>),
    Drills(Vec<DrillUse>),
    /// Dials by name, each with its number, and where it stands: which drills they belong to, a base may say.
    Dials(Vec<DialGiven>),
    /// `None` for a kind that takes the weapon of its base away.
    Weapon(Option<Weapon>),
}

pub(super) fn read_kind(drafts: &mut Named<Draft>, table: Table<'_>, known: Words<'_>) {
    let context = table.context();
    let name = table.field("name").needed();
    let base = table.field("based_on");
    let mut flawed = base.is_given() && base.name().is_none();
    let mut no_body = flawed;
    let given = Kind::properties()
        .map(|property| {
            let field = table.field(property.key);
            let given = field.if_given(|field| read(property, &table, field, known));
            let is_flawed = field.is_given() && given.is_none();
            flawed |= is_flawed && decides_much(property);
            no_body |= is_flawed && matches!(property.key, "radius" | "gait");
            given
        })
        .collect();
    let draft = Draft {
        span: name.span.clone(),
        radius_span: table.field("radius").span,
        based_on: base.if_given(|base| Some((base.name()?.to_owned(), base.span.clone()))),
        given,
        spans: Kind::properties()
            .map(|property| table.field(property.key).span)
            .collect(),
        flawed,
        no_body,
    };
    if let Some(given) = name.name() {
        drafts.add(context, given, name.span.clone(), draft);
    }
    table.finish();
}

/// Whether a kind without a property cannot be judged: where it fits, and what it can do.
fn decides_much(property: &Property) -> bool {
    match property.sort {
        Sort::Number(_) | Sort::Gait(_) | Sort::Weapon(..) => true,
        Sort::Pair(..)
        | Sort::Word(..)
        | Sort::Glyph(_)
        | Sort::Flag(_)
        | Sort::Count(_)
        | Sort::Amounts(_)
        | Sort::Resource(_)
        | Sort::Kinds(_)
        | Sort::Drills(_)
        | Sort::Dials(_) => false,
    }
}

/// The value of a property. `None` where it is unsound, which is noted.
fn read<T>(
    property: &Property<T>,
    table: &Table<'_>,
    field: &Field<'_>,
    known: Words<'_>,
) -> Option<Given> {
    match &property.sort {
        Sort::Number(number) => read_number(number, field).map(Given::Number),
        Sort::Pair(_, range, what) => field
            .pair(range.as_written(), what, range.unit.0)
            .map(Given::Pair),
        Sort::Word(_, words) => {
            let choices: Vec<(&str, usize)> = words.iter().copied().zip(0..).collect();
            field.choice(&choices).map(Given::Word)
        }
        Sort::Glyph(_) => field.glyph().map(Given::Glyph),
        Sort::Flag(_) => field.flag().map(Given::Flag),
        Sort::Count(number) => {
            let (low, high) = (number.range.low as u64, number.range.high as u64);
            let count = field.whole(low..=high);
            count.map(|count| Given::Number(count as f64))
        }
        Sort::Amounts(_) => read_amounts(table, property.key, known.resources).map(Given::Amounts),
        Sort::Resource(_) => {
            let at = known.resources.named_by(table.context(), field)?;
            Some(Given::Resource(ResourceId(at as u8)))
        }
        Sort::Kinds(_) => {
            let names = field.names()?.into_iter();
            Some(Given::Kinds(
                names.map(|(name, span)| (name.to_owned(), span)).collect(),
            ))
        }
        Sort::Drills(_) => read_drills(table, field, known.program).map(Given::Drills),
        Sort::Dials(_) => read_dials(table, property.key).map(Given::Dials),
        Sort::Gait(_) => known
            .gaits
            .named_by(table.context(), field)
            .map(Given::Gait),
        Sort::Weapon(_, parts) => read_weapon(table, field, (parts, known)).map(Given::Weapon),
    }
}

fn read_number<T>(number: &Number<T>, field: &Field<'_>) -> Option<f64> {
    field.number(number.range.as_written(), number.range.unit.0)
}

/// What `weapon` says: a table, or `false` for none.
fn read_weapon(
    kind: &Table<'_>,
    field: &Field<'_>,
    (parts, known): (&[Property<Weapon>], Words<'_>),
) -> Option<Option<Weapon>> {
    if field.is_false() {
        return Some(None);
    }
    let like = "false, or a table like { range = 6, damage = 3, cooldown = 1 }";
    let table = kind.table_like("weapon", "a weapon", like)?;
    let mut weapon = Weapon::PLAIN;
    let mut is_sound = true;
    let mut lost = Vec::new();
    for part in parts {
        let mut field = table.field(part.key);
        if part.default.is_none() {
            field = field.needed();
        }
        let given = field.if_given(|field| read(part, &table, field, known));
        is_sound &= given.is_some() || !field.is_given() && part.default.is_some();
        if let Some(given) = given {
            given.set(&mut weapon, part, &|_| None);
            if given.is_lost_on(&weapon, part) {
                lost.push((field.span.clone(), part));
            }
        }
    }
    for (span, part) in lost.iter().filter(|_| is_sound) {
        let (key, needs) = (part.key, part.needs);
        let message = format!("the weapon has no use for {key:?}: that needs {needs}");
        table.context().warn(Diagnostic::new(span.clone(), message));
    }
    table.finish();
    is_sound.then_some(Some(weapon))
}

impl Given {
    /// Gives a kind or a component the value. `number_of` gives the number of a kind by its name.
    fn set<T>(
        &self,
        of: &mut T,
        property: &Property<T>,
        number_of: &dyn Fn(&str) -> Option<usize>,
    ) {
        match (&property.sort, self) {
            (Sort::Number(number) | Sort::Count(number), Given::Number(value)) => {
                (number.set)(of, *value);
            }
            (Sort::Pair(access, ..), Given::Pair(pair)) => (access.set)(of, Some(*pair)),
            (Sort::Word(access, _), Given::Word(at)) => (access.set)(of, *at),
            (Sort::Glyph(access), Given::Glyph(glyph)) => (access.set)(of, *glyph),
            (Sort::Flag(access), Given::Flag(flag)) => (access.set)(of, *flag),
            (Sort::Gait(access), Given::Gait(gait)) => (access.set)(of, *gait),
            (Sort::Weapon(access, _), Given::Weapon(weapon)) => (access.set)(of, *weapon),
            (Sort::Amounts(access), Given::Amounts(price)) => {
                (access.set)(of, Some(price.clone()));
            }
            (Sort::Resource(access), Given::Resource(resource)) => {
                (access.set)(of, Some(*resource));
            }
            (Sort::Drills(access), Given::Drills(drills)) => (access.set)(of, drills.clone()),
            (Sort::Kinds(access), Given::Kinds(names)) => {
                let numbers = names.iter().filter_map(|(name, _)| number_of(name));
                let kinds = numbers.map(|at| KindId(at as u16)).collect();
                (access.set)(of, Some(kinds));
            }
            // `read` gives each property its own sort of value.
            _ => {}
        }
    }

    /// Whether a kind or a component could not take it: it lacks what the property belongs to.
    fn is_lost_on<T>(&self, of: &T, property: &Property<T>) -> bool {
        match (&property.sort, self) {
            (Sort::Number(number) | Sort::Count(number), _) => (number.get)(of).is_none(),
            (Sort::Pair(access, ..), _) => (access.get)(of).is_none(),
            (Sort::Word(access, _), Given::Word(at)) => (access.get)(of) != *at,
            _ => false,
        }
    }
}

/// A kind, or what is known of one that is unsound: units are checked all the same.
pub(super) struct Known {
    pub(super) kind: Kind,
    is_sound: bool,
    /// Whether its radius and its gait are known: then its places can be checked.
    pub(super) has_body: bool,
}

impl Known {
    /// The kind, if nothing is wrong with it.
    pub(super) fn sound(self) -> Option<Kind> {
        self.is_sound.then_some(self.kind)
    }
}

/// Makes kinds of the drafts. All that is wrong is noted.
pub(super) fn finish_kinds(
    drafts: &Named<Draft>,
    context: &Context<'_>,
    (ground, program): (Option<&Ground>, Option<&Program>),
    main: usize,
) -> Named<Known> {
    drafts.check_count(context, main, MAX_KINDS);
    let mut kinds = Named::new("kind");
    for (at, draft) in drafts.all.iter().enumerate() {
        let (name, span) = &drafts.names[at];
        let full = filled_in(drafts, context, at);
        let full = full.unwrap_or_else(|| draft.alone());
        let full_dials = full.dials();
        let kind = full.finish(context, name, drafts);
        let kind = Known {
            kind: set_dials(kind.kind, (context, program), (&draft.dials(), &full_dials)),
            ..kind
        };
        draft.check_names(drafts, context);
        let widest = ground.map_or(f32::MAX, ClearanceMap::max_radius_m);
        if let Some(radius_m) = draft
            .number("radius")
            .filter(|radius| *radius as f32 > widest)
        {
            let message = format!(
                "{name:?} has a radius of {radius_m} m; on cells of this size {widest} m are allowed"
            );
            context.note(Diagnostic::new(draft.radius_span.clone(), message));
        }
        draft.warn_of_lost(context, &kind);
        kinds.add(context, name, span.clone(), kind);
    }
    kinds
}

/// The draft with what it lacks taken from the kinds that it is based on.
fn filled_in(drafts: &Named<Draft>, context: &Context<'_>, at: usize) -> Option<Draft> {
    let mut full = drafts.all[at].clone();
    let mut chain = vec![at];
    let mut last = at;
    while let Some((base, span)) = &drafts.all[last].based_on {
        let Some(next) = drafts.position(base) else {
            // Reported once, at the kind that names it.
            if last == at {
                context.note_unknown(span, "kind", base, drafts.known());
            }
            return None;
        };
        if let Some(start) = chain.iter().position(|known| *known == next) {
            // Reported once for the whole circle, at its first member.
            if chain[start..].iter().min() == Some(&at) && start == 0 {
                let names = chain.iter().map(|k| drafts.names[*k].0.as_str());
                let round = names.collect::<Vec<_>>().join(" → ");
                let message =
                    format!("kinds are based on one another in a circle: {round} → {base}");
                context.note(Diagnostic::new(span.clone(), message));
            }
            return None;
        }
        let from = &drafts.all[next];
        for (value, inherited) in full.given.iter_mut().zip(&from.given) {
            if value.is_none() {
                value.clone_from(inherited);
            }
        }
        full.flawed |= from.flawed;
        full.no_body |= from.no_body;
        chain.push(next);
        last = next;
    }
    Some(full)
}

impl Draft {
    /// Warns of what the file itself gives a kind that has no use for it.
    fn warn_of_lost(&self, context: &Context<'_>, known: &Known) {
        let given = Kind::properties().zip(&self.given).zip(&self.spans);
        for ((property, given), span) in given.filter(|_| known.is_sound) {
            if given
                .as_ref()
                .is_some_and(|given| given.is_lost_on(&known.kind, property))
            {
                let (name, key, needs) = (&known.kind.name, property.key, property.needs);
                let message = format!("{name:?} has no use for {key:?}: that needs {needs}");
                context.warn(Diagnostic::new(span.clone(), message));
            }
        }
    }

    /// The dials that are set, by itself or by a kind that it is based on.
    fn dials(&self) -> Vec<DialGiven> {
        let dials = self.given.iter().flatten().filter_map(|given| match given {
            Given::Dials(dials) => Some(dials.clone()),
            _ => None,
        });
        dials.flatten().collect()
    }

    /// The number given for a property.
    fn number(&self, key: &str) -> Option<f64> {
        let at = Kind::properties().position(|property| property.key == key)?;
        match self.given[at] {
            Some(Given::Number(number)) => Some(number),
            _ => None,
        }
    }

    /// Fills in what follows from the rest where it is not given.
    fn fill_in(&mut self) {
        let at = |key: &str| Kind::properties().position(|property| property.key == key);
        let [Some(radius), Some(speed), Some(rank), Some(footprint)] =
            ["radius", "speed", "rank", "footprint"].map(at)
        else {
            return;
        };
        if let (None, Some(Given::Pair(size))) = (&self.given[radius], &self.given[footprint]) {
            let half = f64::from(size.min_element() * 0.5);
            self.given[radius] = Some(Given::Number(
                half.clamp(Body::MIN_RADIUS_M.into(), Body::MAX_RADIUS_M.into()),
            ));
        }
        if let (None, Some(Given::Word(rank))) = (&self.given[speed], &self.given[rank])
            && matches!(Rank::WORDS[*rank].1, Rank::Building | Rank::Deposit)
        {
            self.given[speed] = Some(Given::Number(0.0));
        }
    }

    /// What is known of one whose base is not: nothing of it is missing.
    fn alone(&self) -> Draft {
        Draft {
            flawed: true,
            no_body: true,
            ..self.clone()
        }
    }

    /// Notes the names of kinds that there are not, of those that the file gives this one itself.
    fn check_names(&self, drafts: &Named<Draft>, context: &Context<'_>) {
        for given in self.given.iter().flatten() {
            if let Given::Kinds(names) = given {
                for (name, span) in names {
                    if drafts.position(name).is_none() {
                        context.note_unknown(span, "kind", name, drafts.known());
                    }
                }
            }
        }
    }

    fn finish(mut self, context: &Context<'_>, name: &str, drafts: &Named<Draft>) -> Known {
        self.fill_in();
        let mut is_sound = !self.flawed;
        let mut kind = Kind::walker(name, Body::MIN_RADIUS_M, 0.0);
        for (property, given) in Kind::properties().zip(&self.given) {
            match given {
                Some(given) => given.set(&mut kind, property, &|name| drafts.position(name)),
                None if property.default.is_some() => {}
                None => {
                    is_sound = false;
                    if !self.flawed {
                        let key = property.key;
                        let message = format!(
                            "{name:?} needs the key {key:?}, of its own or of a kind it is based on"
                        );
                        context.note(Diagnostic::new(self.span.clone(), message));
                    }
                }
            }
        }
        let has_body = !self.no_body && self.number("radius").is_some();
        Known {
            kind,
            is_sound,
            has_body,
        }
    }
}
