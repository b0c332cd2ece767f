//! Who hears of a change: `NOTIFY` to every server process beside this database.
//!
//! A notice says which class changed and in what, or whose session ended, and nothing else about anybody. It is sent after the change is stored, in a statement
//! of its own: a notice inside the transaction would make every write of the whole server wait its turn, since
//! PostgreSQL commits transactions with a notice one after the other. The price: a process that dies in between stores
//! a change without a notice; pages catch up with their next regular reading.

use bright_row_core::lessons::lead::LeadSignal;
use bright_row_core::{AccountId, ClassId};
use sea_orm::sqlx::postgres::PgListener;
use sea_orm::{ConnectionTrait, DatabaseConnection, Statement};
use uuid::Uuid;

use crate::error::StoreError;

const CHANNEL: &str = "bright_row_class";

/// In what a class changed: a page reads again what it shows of that.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub enum Topic {
    /// Observations came in.
    Observations,
    /// Something happened in a round.
    Rounds,
    /// Work on instruments' markers came in.
    Tapes,
    /// Families answered.
    Home,
    /// Anything else: who is in it, its settings, instruments, lessons.
    Class,
}

impl Topic {
    const ALL: [Self; 5] = [Self::Observations, Self::Rounds, Self::Tapes, Self::Home, Self::Class];

    /// The word that is sent.
    #[must_use]
    pub const fn word(self) -> &'static str {
        match self {
            Self::Observations => "observations",
            Self::Rounds => "rounds",
            Self::Tapes => "tapes",
            Self::Home => "home",
            Self::Class => "class",
        }
    }
}

/// What every process hears of.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Notice {
    /// A class changed, and in what.
    Changed(ClassId, Topic),
    /// A session of somebody ended.
    Ended(AccountId),
    /// Somebody's page says something to the other pages of the same account.
    Lead(ClassId, AccountId, LeadSignal),
}

/// The word before the account of [`Notice::Ended`].
const ENDED: &str = "ended";
/// The word before class, account and signal of [`Notice::Lead`].
const LEAD: &str = "lead ";

/// Tells every process, in this order.
///
/// A notice has to be heard, not kept: its transaction waits neither for the disk nor for a standby. Should it be lost in a crash, the
/// connections of those who listen are lost as well, and they read everything again.
pub async fn tell(db: &impl ConnectionTrait, notices: &[Notice]) -> Result<(), StoreError> {
    const SQL: &str =
        "select pg_notify($1, notice), set_config('synchronous_commit', 'off', true) from unnest($2::text[]) as notice";
    let notices: Vec<String> = notices.iter().map(write).collect();
    db.execute_raw(Statement::from_sql_and_values(db.get_database_backend(), SQL, [CHANNEL.into(), notices.into()]))
        .await?;
    Ok(())
}

fn write(notice: &Notice) -> String {
    match notice {
        Notice::Changed(class, topic) => format!("{class} {}", topic.word()),
        Notice::Ended(account) => format!("{ENDED} {account}"),
        Notice::Lead(class, account, signal) => {
            // A signal is plain data: it is JSON.
            let signal = serde_json::to_string(signal).unwrap_or_default();
            format!("{LEAD}{class} {account} {signal}")
        }
    }
}

/// What a notice tells; what an older process tells in fewer words is about anything.
fn read(notice: &str) -> Option<Notice> {
    if let Some(account) = notice.strip_prefix(ENDED) {
        return Some(Notice::Ended(account.trim().parse::<Uuid>().ok()?.into()));
    }
    if let Some(rest) = notice.strip_prefix(LEAD) {
        let mut parts = rest.splitn(3, ' ');
        let class = parts.next()?.parse::<Uuid>().ok()?.into();
        let account = parts.next()?.parse::<Uuid>().ok()?.into();
        return Some(Notice::Lead(class, account, serde_json::from_str(parts.next()?).ok()?));
    }
    let (class, topic) = notice.split_once(' ').unwrap_or((notice, ""));
    let topic = Topic::ALL.into_iter().find(|known| known.word() == topic).unwrap_or(Topic::Class);
    Some(Notice::Changed(class.parse::<Uuid>().ok()?.into(), topic))
}

/// One connection that hears every notice.
pub struct Listener(PgListener);

/// What a [`Listener`] heard.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Heard {
    /// A notice.
    Notice(Notice),
    /// The connection was lost and is back: anything may have changed meanwhile.
    Gap,
}

impl Listener {
    /// Begins to listen.
    pub async fn begin(db: &DatabaseConnection) -> Result<Self, StoreError> {
        let mut listener = PgListener::connect_with(db.get_postgres_connection_pool()).await?;
        listener.listen(CHANNEL).await?;
        Ok(Self(listener))
    }

    /// Waits for the next notice.
    pub async fn hear(&mut self) -> Result<Heard, StoreError> {
        loop {
            // `try_recv` answers `None` when the connection broke; the next call opens it again.
            let Some(notice) = self.0.try_recv().await? else { return Ok(Heard::Gap) };
            if let Some(notice) = read(notice.payload()) {
                return Ok(Heard::Notice(notice));
            }
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use bright_row_core::lessons::lead::LeadAction;

    #[test]
    fn a_notice_is_read_as_it_is_sent_and_one_in_fewer_words_is_about_anything() {
        let class = ClassId::from(Uuid::from_u128(7));
        for topic in Topic::ALL {
            assert_eq!(read(&write(&Notice::Changed(class, topic))), Some(Notice::Changed(class, topic)));
        }
        let ended = Notice::Ended(Uuid::from_u128(8).into());
        assert_eq!(read(&write(&ended)), Some(ended));
        let signal = LeadSignal {
            page: Uuid::from_u128(9),
            action: LeadAction::Open,
            drill: Some("statue".to_owned()),
            tempo: None,
            level: None,
            beat: None,
            running: None,
        };
        let lead = Notice::Lead(class, Uuid::from_u128(8).into(), signal);
        assert_eq!(read(&write(&lead)), Some(lead));
        assert_eq!(read("lead nothing of ours"), None);
        assert_eq!(read(&class.to_string()), Some(Notice::Changed(class, Topic::Class)));
        assert_eq!(read("nothing of ours"), None);
    }
}
