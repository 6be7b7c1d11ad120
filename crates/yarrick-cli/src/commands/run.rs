//! `yarrick run`: a scenario without pictures, and the account of it.

use crate::account::Account;
use crate::arguments::Run;
use crate::failure::Failure;
use crate::figures::Figures;
use crate::files;
use crate::progress::Progress;
use std::io::Write as _;
use yarrick::Scenario;

pub(crate) fn run(run: &Run) -> Result<(), Failure> {
    let scenario = files::load(&run.scenario.path)?;
    let until_s = run.until.unwrap_or(scenario.duration_s);
    let seed = run.seed.seed;
    let failed = |error| Failure::file(&run.scenario.path, error);
    let text = if run.measure {
        let figures = Figures::of(&scenario, seed, until_s, run.threads).map_err(failed)?;
        if run.json {
            figures.to_json()
        } else {
            figures.to_text()
        }
    } else {
        let account = account_of(&scenario, run, until_s).map_err(failed)?;
        if let Some(mind) = account.minds().iter().find(|mind| !mind.was_there()) {
            let message = format!(
                "--explain {}: no unit of the scenario had that name or id; ids are such as 7v1",
                mind.asked()
            );
            return Err(Failure::Usage(message));
        }
        if run.json {
            account.to_json()
        } else {
            account.to_text()
        }
    };
    write!(anstream::stdout(), "{text}").map_err(|error| Failure::output(&error))
}

/// Plays a scenario to a time and takes down what happens.
fn account_of(
    scenario: &Scenario,
    run: &Run,
    until_s: f64,
) -> Result<Account, yarrick::world::WorldError> {
    let mut play = scenario.play(run.seed.seed)?;
    play.set_threads(run.threads.count());
    let rate = f64::from(play.world().ticks_per_second());
    let mut progress = Progress::new((until_s * rate) as u64);
    let mut account = Account::begin(scenario, &play);
    account.explain(&run.explain);
    while !play.is_past(until_s) {
        let happened = play.step().to_vec();
        account.note(&play, &happened);
        progress.tick(play.world().tick());
    }
    progress.finish();
    account.close(&play);
    Ok(account)
}
