//! What was seen in class of instruments' tapes: observations of whoever had the instrument then.

use std::collections::BTreeMap;

use bright_row_core::progress::observation::Observation;
use bright_row_core::{AssetId, ProgramId};
use chrono::{DateTime, Utc};
use sea_orm::{ConnectionTrait, FromQueryResult, Statement};
use uuid::Uuid;

use crate::entity::observation;
use crate::error::StoreError;

/// The observations that speak of the tapes of instruments which nobody of a class has, or of one instrument.
pub async fn observations_on(
    db: &impl ConnectionTrait,
    program: ProgramId,
    one: Option<AssetId>,
) -> Result<BTreeMap<AssetId, Vec<Observation>>, StoreError> {
    const SQL: &str = "
        select t.asset_id as on_asset, m.* from tape_observation t
        join observation m on m.program_id = t.program_id and m.observation_id = t.observation_id
        where t.program_id = $1 and t.asset_id is not null";
    const FREE: &str = "
        and not exists (select from loan l
                        where l.program_id = t.program_id and l.asset_id = t.asset_id and l.until is null)";
    let which = if one.is_some() { " and t.asset_id = $2" } else { FREE };
    let mut values = vec![program.uuid().into()];
    values.extend(one.map(|asset| asset.uuid().into()));
    let statement = Statement::from_sql_and_values(db.get_database_backend(), format!("{SQL}{which}"), values);
    let mut found: BTreeMap<AssetId, Vec<Observation>> = BTreeMap::new();
    for row in db.query_all_raw(statement).await? {
        let asset: Uuid = row.try_get("", "on_asset")?;
        let model = observation::Model::from_query_result(&row, "")?;
        found.entry(asset.into()).or_default().push(crate::observations::rows::read(model)?);
    }
    Ok(found)
}

/// A look at an instrument's tapes in class.
#[derive(Clone, Debug, PartialEq, Eq, FromQueryResult)]
pub struct Look {
    /// At which checkpoint or stage.
    pub target: String,
    /// 3 there, 0 not; none for a look at a whole stage.
    pub level: Option<i16>,
    /// When.
    pub observed_at: DateTime<Utc>,
    /// The name of who looked.
    pub by: String,
}

/// The looks in class at an instrument's tapes, newest first, at most a hundred; what was taken back is left out.
pub async fn looks(db: &impl ConnectionTrait, program: ProgramId, asset: AssetId) -> Result<Vec<Look>, StoreError> {
    const SQL: &str = "
        select m.target, m.level, m.observed_at, a.display_name as by
        from tape_observation t
        join observation m on m.program_id = t.program_id and m.observation_id = t.observation_id
        join account a on a.account_id = m.observer
        where t.program_id = $1 and t.asset_id = $2 and m.retracts is null
          and not exists (select from observation r where r.program_id = m.program_id and r.child_id = m.child_id
                          and r.target = m.target and r.retracts = m.observation_id)
        order by m.observed_at desc, m.observation_id desc limit 100";
    let values = [program.uuid().into(), asset.uuid().into()];
    let found = Look::find_by_statement(Statement::from_sql_and_values(db.get_database_backend(), SQL, values));
    Ok(found.all(db).await?)
}
