//! `iron-seat speed`: generates data through the store, then measures the Bench and the Floor, each against a bare page
//! of the same server process that reads session and person, and writes as many bytes.

use ironseat_store::read::floor::{FloorQuery, floor};
use ironseat_store::rows::person::Role;
use ironseat_store::{DEMO_PASSWORD, Store, bench_data, read, write};
use std::time::{Duration, Instant};
use tokio::io::{AsyncReadExt as _, AsyncWriteExt as _};
use tokio::net::TcpStream;

/// Limits of the house: p95 of the Bench at one connection and at 32 in ms, shares of the bare page at 32 connections
/// of Bench and Floor, resident MB.
const LIMITS: (f64, f64, f64, f64, f64) = (12.0, 60.0, 0.5, 0.2, 150.0);

/// Numbers of generated rebuilds begin so, and nothing of the demo is found by it.
const GENERATED: &str = "G-0";

struct Connection {
    stream: TcpStream,
    buffer: Vec<u8>,
}

impl Connection {
    async fn open(port: u16) -> std::io::Result<Self> {
        let stream = TcpStream::connect(("127.0.0.1", port)).await?;
        stream.set_nodelay(true)?;
        Ok(Self { stream, buffer: vec![0; 1 << 20] })
    }

    /// One request on a kept-alive connection: status, headers, length of the body.
    async fn ask(&mut self, head: &str, body: &str) -> std::io::Result<(u16, String, usize)> {
        self.stream
            .write_all(format!("{head}\r\nHost: 127.0.0.1\r\nContent-Length: {}\r\n\r\n{body}", body.len()).as_bytes())
            .await?;
        let mut filled = 0;
        loop {
            let n = self.stream.read(&mut self.buffer[filled..]).await?;
            filled += n;
            let text = &self.buffer[..filled];
            if let Some(end) = text.windows(4).position(|w| w == b"\r\n\r\n") {
                let headers = String::from_utf8_lossy(&text[..end]).into_owned();
                let field = |name: &str| {
                    headers.lines().find_map(|l| {
                        l.split_once(": ").filter(|(k, _)| k.eq_ignore_ascii_case(name)).map(|(_, v)| v.to_owned())
                    })
                };
                let length: usize = field("content-length").and_then(|v| v.parse().ok()).unwrap_or(0);
                if filled >= end + 4 + length {
                    let status = headers.split(' ').nth(1).and_then(|s| s.parse().ok()).unwrap_or(0);
                    return Ok((status, headers, length));
                }
            }
            if n == 0 {
                return Err(std::io::ErrorKind::UnexpectedEof.into());
            }
        }
    }
}

struct Run {
    per_second: f64,
    p50: f64,
    p95: f64,
    bytes: usize,
}

async fn load(port: u16, cookie: &str, paths: &[String], connections: usize, lasting: Duration) -> Result<Run, String> {
    let begun = Instant::now();
    let jobs: Vec<_> = (0..connections)
        .map(|k| {
            let (cookie, paths) = (cookie.to_owned(), paths.to_vec());
            tokio::spawn(async move {
                let mut c = Connection::open(port).await.map_err(|e| e.to_string())?;
                let (mut times, mut bytes, mut i) = (Vec::new(), 0, k * 37);
                while begun.elapsed() < lasting {
                    let at = Instant::now();
                    let (status, _, n) = c
                        .ask(&format!("GET {} HTTP/1.1\r\nCookie: {cookie}", paths[i % paths.len()]), "")
                        .await
                        .map_err(|e| e.to_string())?;
                    if status != 200 {
                        return Err(format!("status {status}"));
                    }
                    times.push(at.elapsed().as_secs_f64() * 1000.0);
                    bytes = n;
                    i += 1;
                }
                Ok::<_, String>((times, bytes))
            })
        })
        .collect();
    let (mut all, mut bytes) = (Vec::new(), 0);
    for j in jobs {
        let (times, n) = j.await.map_err(|e| e.to_string())??;
        all.extend(times);
        bytes = n;
    }
    let seconds = begun.elapsed().as_secs_f64();
    all.sort_by(f64::total_cmp);
    let at = |share: f64| {
        all.get(((all.len() as f64 * share) as usize).min(all.len().saturating_sub(1))).copied().unwrap_or(f64::NAN)
    };
    Ok(Run { per_second: all.len() as f64 / seconds, p50: at(0.5), p95: at(0.95), bytes })
}

fn resident_mb(pid: u32) -> f64 {
    let text = std::fs::read_to_string(format!("/proc/{pid}/status")).unwrap_or_default();
    text.lines()
        .find_map(|l| l.strip_prefix("VmRSS:"))
        .and_then(|v| v.split_whitespace().next()?.parse::<f64>().ok())
        .unwrap_or(f64::NAN)
        / 1024.0
}

/// Measures and prints; an error when a limit is missed.
#[expect(clippy::too_many_lines, reason = "one measurement after the other")]
pub async fn measure(database: &str, store: Store, rebuild_count: usize, readings: usize) -> Result<(), String> {
    let say = |e: ironseat_store::StoreError| e.to_string();
    store.migrate().await.map_err(say)?;
    if !store.run(read::people::any).await.map_err(say)? {
        store.run(ironseat_store::load_demo).await.map_err(say)?;
    }
    let begun = Instant::now();
    let have = store
        .run(|c| floor(c, &FloorQuery { find: GENERATED.into(), ..Default::default() }).map(|f| f.count))
        .await
        .map_err(say)?;
    if have == 0 {
        println!("Generating {rebuild_count} rebuilds with {readings} readings through the store.");
        let each = readings / rebuild_count.max(1);
        store
            .run(move |c| {
                let lead = write::secrets::sign_in(c, "ines", DEMO_PASSWORD)?
                    .filter(|p| p.role == Role::Lead)
                    .ok_or(ironseat_store::StoreError::NotFound)?;
                bench_data(c, &lead, rebuild_count, each, |n| {
                    if n % 100 == 0 {
                        println!("  {n} of {rebuild_count}")
                    }
                })
            })
            .await
            .map_err(say)?;
        println!("  took {:.0} s", begun.elapsed().as_secs_f64());
    }
    let ids = store
        .run(|c| {
            Ok(floor(c, &FloorQuery { find: GENERATED.into(), ..Default::default() })?
                .strips
                .iter()
                .map(|o| o.bench.rebuild.id)
                .collect::<Vec<_>>())
        })
        .await
        .map_err(say)?;

    let port =
        std::net::TcpListener::bind("127.0.0.1:0").and_then(|l| l.local_addr()).map_err(|e| e.to_string())?.port();
    let exe = std::env::current_exe().map_err(|e| e.to_string())?;
    let mut server = tokio::process::Command::new(exe)
        .args(["serve", "--measure", "--port", &port.to_string(), "--database", database])
        .stdout(std::process::Stdio::null())
        .kill_on_drop(true)
        .spawn()
        .map_err(|e| e.to_string())?;
    let pid = server.id().unwrap_or(0);
    let mut c = loop {
        match Connection::open(port).await {
            Ok(c) => break c,
            Err(_) if begun.elapsed() < Duration::from_secs(1200) => {
                tokio::time::sleep(Duration::from_millis(100)).await
            }
            Err(e) => return Err(e.to_string()),
        }
    };
    let form = format!("handle=tomasz&password={DEMO_PASSWORD}");
    let (_, headers, _) = c
        .ask("POST /sign-in HTTP/1.1\r\nContent-Type: application/x-www-form-urlencoded", &form)
        .await
        .map_err(|e| e.to_string())?;
    let cookie = headers
        .lines()
        .find_map(|l| l.strip_prefix("set-cookie: "))
        .and_then(|v| v.split(';').next())
        .ok_or("no session")?
        .to_owned();
    let pages: Vec<String> = ids.iter().map(|id| format!("/rebuilds/{id}")).collect();
    let warm = load(port, &cookie, &pages, 4, Duration::from_secs(2)).await?;
    let floor = ["/".to_owned()];
    let floor_warm = load(port, &cookie, &floor, 4, Duration::from_secs(1)).await?;
    let bare = |bytes: usize| [format!("/measure/{bytes}")];
    let lasting = Duration::from_secs(6);
    let one = load(port, &cookie, &pages, 1, lasting).await?;
    let many = load(port, &cookie, &pages, 32, lasting).await?;
    let bare_many = load(port, &cookie, &bare(warm.bytes), 32, lasting).await?;
    let bare_one = load(port, &cookie, &bare(warm.bytes), 1, lasting).await?;
    let floor_many = load(port, &cookie, &floor, 32, lasting).await?;
    let bare_floor = load(port, &cookie, &bare(floor_warm.bytes), 32, lasting).await?;
    let mb = resident_mb(pid);
    let _ = server.kill().await;

    for (name, r) in [
        ("Bench, 1 connection", &one),
        ("Bench, 32 connections", &many),
        ("bare, 1 connection", &bare_one),
        ("bare, 32 connections", &bare_many),
        ("Floor, 32 connections", &floor_many),
        ("bare, 32 connections", &bare_floor),
    ] {
        println!(
            "{name:<24} {:>7.0} pages/s   p50 {:>6.2} ms   p95 {:>6.2} ms   {} bytes",
            r.per_second, r.p50, r.p95, r.bytes
        );
    }
    let share = many.per_second / bare_many.per_second;
    let floor_share = floor_many.per_second / bare_floor.per_second;
    println!(
        "Bench at {:.0} % of the bare page, Floor at {:.0} %; {mb:.0} MB resident",
        share * 100.0,
        floor_share * 100.0
    );
    let (a, b, s, fl, m) = LIMITS;
    let mut missed = Vec::new();
    for (name, value, good) in [
        ("p95 at one connection", one.p95, one.p95 < a),
        ("p95 at 32 connections", many.p95, many.p95 < b),
        ("share of the bare page", share, share >= s),
        ("the Floor's share", floor_share, floor_share >= fl),
        ("resident MB", mb, mb < m),
    ] {
        if !good {
            missed.push(format!("{name} is {value:.2}"))
        }
    }
    if missed.is_empty() { Ok(()) } else { Err(format!("Limits missed: {}.", missed.join(", "))) }
}
