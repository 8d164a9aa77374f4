//! The `iron-seat` command.

mod papers;
mod scripts;
mod server;
mod speed;

use clap::{CommandFactory as _, Parser, Subcommand};
use ironseat_store::chain::digests::Chain;
use ironseat_store::chain::entry::Verdict;
use ironseat_store::chain::heads::Head;
use ironseat_store::db::{backup, migrate};
use ironseat_store::rows::person::Role;
use ironseat_store::{DEMO_PASSWORD, DEMO_SIGN_INS, Store, StoreError, chain, read, write};
use ironseat_web::{App, Config, routes};
use std::process::ExitCode;
use std::time::{Duration, Instant};
use tracing::Level;
use tracing_subscriber::filter::Targets;
use tracing_subscriber::layer::{Layer as _, SubscriberExt as _};
use tracing_subscriber::util::SubscriberInitExt as _;

/// Pages are made of many small texts: this allocator makes them in about two thirds of the time.
#[global_allocator]
static ALLOCATOR: mimalloc::MiMalloc = mimalloc::MiMalloc;

/// A page says in this time that the database does not answer, if it does not.
const PATIENCE: Duration = Duration::from_secs(4);

#[derive(Parser)]
#[command(name = "iron-seat", version, about = "Rebuild records that judge: measuring, fits, heat, proof, signature.")]
struct Cli {
    /// How the log is written: plain lines, or json for machines.
    #[arg(long, env = "IRON_SEAT_LOG", default_value = "plain", value_parser = ["plain", "json"], global = true)]
    log: String,
    #[command(subcommand)]
    command: Command,
}

#[derive(Subcommand)]
enum Command {
    /// Serves the rooms on a loopback port.
    Serve {
        #[arg(long, default_value_t = 4310)]
        port: u16,
        #[arg(long, env = "DATABASE_URL", hide_env_values = true)]
        database: String,
        /// Connections kept to the database.
        #[arg(long, default_value_t = 12)]
        connections: usize,
        /// A host name that it goes by, beside localhost: as often as there are names.
        #[arg(long = "host", value_name = "NAME", env = "IRON_SEAT_HOSTS", value_delimiter = ',')]
        hosts: Vec<String>,
        /// A front end ends TLS before it: cookies are then for TLS alone.
        #[arg(long, env = "IRON_SEAT_TLS")]
        tls: bool,
        /// Code that sets an empty shop up; made anew at each start when it is not given.
        #[arg(long, env = "IRON_SEAT_FIRST_RUN_CODE", hide_env_values = true)]
        first_run_code: Option<String>,
        /// Adds the bare page that bin/bench compares with.
        #[arg(long, hide = true)]
        measure: bool,
    },
    /// Brings the database up to date.
    Migrate {
        #[arg(long, env = "DATABASE_URL", hide_env_values = true)]
        database: String,
    },
    /// Loads the demo shop into an empty database.
    Demo {
        #[arg(long, env = "DATABASE_URL", hide_env_values = true)]
        database: String,
    },
    /// Reckons a named computation: JSON on stdin, JSON on stdout.
    Reckon {
        /// Name, such as fit.press.
        name: Option<String>,
        /// Lists all names.
        #[arg(long)]
        list: bool,
        /// Prints the JSON Schema of what it takes and gives.
        #[arg(long, conflicts_with_all = ["list", "many"])]
        schema: bool,
        /// One JSON object a line in, one a line out; without a name each line is {"name", "input"}.
        #[arg(long, conflicts_with = "list")]
        many: bool,
    },
    /// Derives the acts of a machine from its build sheet: JSON on stdout.
    Derive {
        /// Build sheet; - for standard input.
        file: String,
        /// Prints what comes off for this body.
        #[arg(long, value_name = "BODY", conflicts_with = "check")]
        out: Option<String>,
        /// What is on, for --out: ids set apart by commas, or all.
        #[arg(long, value_name = "ID,ID", requires = "out", default_value = "all")]
        have: String,
        /// Plays an order of acts of one phase from its beginning.
        #[arg(long, value_name = "ACT,ACT")]
        check: Option<String>,
    },
    /// Checks the records: all rebuilds and the shop, or the numbers named.
    Verify {
        numbers: Vec<String>,
        /// A list that iron-seat heads wrote: every head on it must still stand in its chain.
        #[arg(long, value_name = "FILE")]
        against: Option<std::path::PathBuf>,
        #[arg(long, env = "DATABASE_URL", hide_env_values = true)]
        database: String,
    },
    /// Lists the last hash of every chain: kept elsewhere, it proves later that nothing was cut off or hashed anew.
    Heads {
        #[arg(long, env = "DATABASE_URL", hide_env_values = true)]
        database: String,
    },
    /// Writes a backup of everything, while others work: pictures included, with a checksum.
    Backup {
        /// Where to; it must not be there yet.
        file: std::path::PathBuf,
        #[arg(long, env = "DATABASE_URL", hide_env_values = true)]
        database: String,
    },
    /// Puts a backup back into an empty database, brings it up to date and checks every record.
    Restore {
        /// What backup wrote.
        file: std::path::PathBuf,
        #[arg(long, env = "DATABASE_URL", hide_env_values = true)]
        database: String,
    },
    /// Who is there; for a lead who locked herself out, too.
    People {
        #[command(subcommand)]
        what: PeopleCommand,
        #[arg(long, env = "DATABASE_URL", hide_env_values = true, global = true)]
        database: Option<String>,
    },
    /// Generates data through the store and measures the Bench page.
    Speed {
        #[arg(long, env = "DATABASE_URL", hide_env_values = true)]
        database: String,
        #[arg(long, default_value_t = 1000)]
        rebuilds: usize,
        #[arg(long, default_value_t = 200_000)]
        readings: usize,
    },
    /// Writes completion for a shell: iron-seat completion bash > /etc/bash_completion.d/iron-seat
    Completion { shell: clap_complete::Shell },
    /// Writes its man pages, one for each command.
    Man {
        /// Folder that they go to, such as /usr/local/share/man/man1.
        folder: std::path::PathBuf,
    },
}

#[derive(Subcommand)]
enum PeopleCommand {
    /// Lists everybody.
    List,
    /// Puts somebody in and prints the code that sets password and PIN.
    Add {
        /// Sign-in name: small letters and digits.
        handle: String,
        /// As on certificates.
        name: String,
        /// bench or lead; a viewer is put in on the page, with the customer.
        #[arg(long, default_value = "bench")]
        role: String,
    },
    /// Makes password and PIN void and prints a new code.
    Reset {
        /// Sign-in name.
        handle: String,
    },
}

fn main() -> ExitCode {
    let cli = Cli::parse();
    if let Command::Reckon { name, list, schema, many } = &cli.command {
        return scripts::reckon(name.as_deref(), *list, *schema, *many);
    }
    if let Command::Derive { file, out, have, check } = &cli.command {
        return scripts::derive(file, out.as_deref(), have, check.as_deref());
    }
    if let Command::Completion { shell } = &cli.command {
        return scripts::completion(*shell, &mut Cli::command());
    }
    if let Command::Man { folder } = &cli.command {
        return match clap_mangen::generate_to(Cli::command(), folder) {
            Ok(()) => ExitCode::SUCCESS,
            Err(e) => fail(&format!("The man pages cannot be written to {}: {e}.", folder.display())),
        };
    }
    let asked = std::env::var("RUST_LOG").ok().and_then(|f| f.parse::<Targets>().ok());
    let ours = || {
        Targets::new().with_default(Level::WARN).with_targets(["iron_seat", "ironseat_web"].map(|t| (t, Level::INFO)))
    };
    let filter = asked.unwrap_or_else(ours);
    let lines = tracing_subscriber::fmt::layer().with_writer(std::io::stderr);
    let log = tracing_subscriber::registry();
    if cli.log == "json" {
        log.with(lines.json().with_filter(filter)).init();
    } else {
        log.with(lines.with_filter(filter)).init();
    }
    let runtime = match tokio::runtime::Runtime::new() {
        Ok(r) => r,
        Err(e) => return fail(&format!("The program could not start its threads: {e}.")),
    };
    let done = runtime.block_on(run(cli.command));
    // Work that waits for a database that hangs keeps nobody: what was acknowledged is kept, and nothing else was.
    runtime.shutdown_timeout(Duration::from_secs(1));
    match done {
        Ok(code) => code,
        Err(sentence) => fail(&sentence),
    }
}

fn fail(sentence: &str) -> ExitCode {
    eprintln!("{sentence}");
    ExitCode::FAILURE
}

/// Opens the database and waits for it to answer.
async fn open(url: &str, connections: usize) -> Result<Store, String> {
    let store = Store::open(url, connections).map_err(|e| e.to_string())?;
    let until = Instant::now() + Duration::from_secs(20);
    loop {
        match store.ping().await {
            Ok(()) => return Ok(store),
            Err(e) if Instant::now() > until => {
                return Err(format!(
                    "{e}. Is the database running, and is DATABASE_URL right? It was asked for 20 seconds."
                ));
            }
            Err(_) => tokio::time::sleep(Duration::from_millis(200)).await,
        }
    }
}

async fn run(command: Command) -> Result<ExitCode, String> {
    let say = |e: StoreError| e.to_string();
    match command {
        Command::Serve { port, database, connections, hosts, tls, first_run_code, measure } => {
            let first_run_code = first_run_code.unwrap_or_else(ironseat_store::write::roster::new_code);
            let store = open(&database, connections).await?.patient_for(PATIENCE);
            let printer: ironseat_web::Printer = |order| Box::pin(papers::set(order));
            serve(port, measure, Config { hosts, tls, first_run_code, printer: Some(printer) }, store).await
        }
        Command::Migrate { database } => {
            let n = open(&database, 1)
                .await?
                .migrate()
                .await
                .map_err(|e| format!("The database could not be brought up to date: {e}."))?;
            println!(
                "{}",
                if n == 0 { "The database is up to date.".to_owned() } else { format!("{n} migration(s) applied.") }
            );
            Ok(ExitCode::SUCCESS)
        }
        Command::Demo { database } => {
            let store = open(&database, 1).await?;
            if store.run(read::people::any).await.map_err(say)? {
                println!("There is a shop in this database: the demo is not loaded over it.");
            } else {
                store
                    .run(ironseat_store::load_demo)
                    .await
                    .map_err(|e| format!("The demo could not be loaded: {e}."))?;
                println!("The demo shop is loaded.");
            }
            Ok(ExitCode::SUCCESS)
        }
        Command::Verify { numbers, against, database } => {
            let kept = match against {
                Some(file) => Some(
                    std::fs::read_to_string(&file).map_err(|e| format!("{} cannot be read: {e}.", file.display()))?,
                ),
                None => None,
            };
            verify(&open(&database, 1).await?, &numbers, kept.as_deref()).await
        }
        Command::People { what, database } => {
            let url = database.ok_or("Name the database with --database or DATABASE_URL.")?;
            crew(&open(&url, 1).await?, what).await.map_err(say)
        }
        Command::Heads { database } => {
            for h in open(&database, 1).await?.run(chain::heads::heads).await.map_err(say)? {
                println!("{h}");
            }
            Ok(ExitCode::SUCCESS)
        }
        Command::Backup { file, database } => {
            let url = open(&database, 1).await?.address().await.map_err(say)?;
            let bytes = tokio::task::spawn_blocking({
                let file = file.clone();
                move || backup::backup(&url, &file)
            });
            let bytes = bytes.await.map_err(|e| e.to_string())?.map_err(|e| format!("No backup was made: {e}."))?;
            println!("{} holds everything, {:.1} MB.", file.display(), bytes as f64 / 1e6);
            Ok(ExitCode::SUCCESS)
        }
        Command::Restore { file, database } => {
            let store = open(&database, 1).await?;
            let url = store.address().await.map_err(say)?;
            store.restore(&url, &file).await.map_err(|e| format!("The backup was not put back: {e}."))?;
            println!("The backup is put back. Its records:");
            verify(&store, &[], None).await
        }
        Command::Speed { database, rebuilds, readings } => {
            speed::measure(&database, open(&database, 4).await?, rebuilds, readings).await.map(|()| ExitCode::SUCCESS)
        }
        Command::Reckon { .. } | Command::Derive { .. } | Command::Completion { .. } | Command::Man { .. } => {
            Ok(ExitCode::SUCCESS)
        }
    }
}

/// People from the command line: whoever can start the program can always let a lead in.
async fn crew(store: &Store, what: PeopleCommand) -> Result<ExitCode, StoreError> {
    let list = store.run(read::roster::list).await?;
    match what {
        PeopleCommand::List => {
            for p in list {
                let stands = match (p.put_away_at.is_some(), p.signs_in(), p.code_until) {
                    (true, ..) => "put away",
                    (_, true, _) => "signs in",
                    (_, false, Some(until)) if until > ironseat_store::now() => "has a code",
                    _ => "cannot sign in",
                };
                println!("{:<16} {:<7} {:<15} {}", p.handle, p.role().key(), stands, p.name);
            }
        }
        PeopleCommand::Add { handle, name, role } => {
            let role: Role = role.parse()?;
            let code = store.run(move |c| write::roster::invite(c, None, &handle, &name, role, None)).await?;
            println!("Code, for {} days: {code}", write::roster::CODE_DAYS);
        }
        PeopleCommand::Reset { handle } => {
            let Some(p) = list.into_iter().find(|p| p.handle == handle) else {
                return Err(ironseat_core::Refusal::new("handle", "nobody goes by this sign-in name").into());
            };
            let code = store.run(move |c| write::roster::reset(c, None, p.id)).await?;
            println!("Code, for {} days: {code}", write::roster::CODE_DAYS);
        }
    }
    Ok(ExitCode::SUCCESS)
}

async fn verify(store: &Store, numbers: &[String], kept: Option<&str>) -> Result<ExitCode, String> {
    let say = |e: StoreError| e.to_string();
    let mut broken = 0;
    let mut told = |name: &str, v: &Verdict| {
        println!("{name}: {}", v.words());
        match v {
            Verdict::Whole { remarks, .. } => remarks.iter().for_each(|r| println!("{name}: {r}")),
            Verdict::Changed { rows } => rows.iter().skip(3).for_each(|r| println!("{name}: {r}")),
            Verdict::Broken { .. } => {}
        }
        broken += usize::from(!v.whole());
    };
    let all = store.run(chain::rebuild::all_rebuilds).await.map_err(say)?;
    for (id, number) in all.iter().filter(|(_, n)| numbers.is_empty() || numbers.contains(n)) {
        let id = *id;
        told(number, &store.run(move |c| chain::rebuild::verify(c, id, true)).await.map_err(say)?);
    }
    if numbers.is_empty() {
        for (chain, name) in Chain::ALL {
            told(name, &store.run(move |c| chain::shop::verify(c, chain)).await.map_err(say)?);
        }
    }
    for wanted in numbers.iter().filter(|n| !all.iter().any(|(_, number)| number == *n)) {
        println!("{wanted}: there is no such rebuild");
        broken += 1;
    }
    if let Some(text) = kept {
        let heads = text
            .lines()
            .filter(|l| !l.trim().is_empty() && !l.starts_with('#'))
            .map(str::parse)
            .collect::<Result<Vec<Head>, _>>();
        let heads = heads.map_err(|line| format!("The list of heads has a line that is none: {line}"))?;
        let n = heads.len();
        let missing = store.run(move |c| chain::heads::missing(c, &heads)).await.map_err(say)?;
        for h in &missing {
            println!("{}: its head of then, entry {}, does not stand in it any more", h.name, h.seq);
        }
        println!("{} of {n} heads on the list still stand.", n - missing.len());
        broken += missing.len();
    }
    Ok(if broken == 0 { ExitCode::SUCCESS } else { ExitCode::FAILURE })
}

async fn serve(port: u16, measure: bool, config: Config, store: Store) -> Result<ExitCode, String> {
    let say = |e: StoreError| format!("The database is not ready: {e}.");
    if let Some(why) = store.run(migrate::look).await.map_err(say)?.held() {
        return Err(why);
    }
    let (settings, anyone) =
        store.run(|c| Ok((ironseat_store::read::shop::settings(c)?, read::people::any(c)?))).await.map_err(say)?;
    let demo = settings.is_some_and(|s| s.demo);
    let listener = tokio::net::TcpListener::bind(("127.0.0.1", port)).await.map_err(|e| match e.kind() {
        std::io::ErrorKind::AddrInUse => {
            format!("Port {port} is taken by another program: choose another one with --port.")
        }
        _ => format!("Port {port} cannot be opened: {e}."),
    })?;
    let address = listener.local_addr().map_err(|e| e.to_string())?;
    println!("\n  Iron Seat is at http://{address}\n");
    if demo {
        println!("  Demo sign-ins, password {DEMO_PASSWORD}:");
        for (handle, role, pin) in DEMO_SIGN_INS {
            println!("    {handle:<10} {role}{}", pin.map_or(String::new(), |p| format!(", PIN {p}")));
        }
        println!();
    } else if !anyone {
        println!("  Nobody is here yet. Code for setting the shop up: {}\n", config.first_run_code);
    }
    let app = App::new(store, config);
    server::run(listener, routes(app.clone(), measure), app.stop).await;
    Ok(ExitCode::SUCCESS)
}
