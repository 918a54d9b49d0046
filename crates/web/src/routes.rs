//! Every address, by task.

use crate::assets;
use crate::pages::log::{behind, finish};
use crate::pages::{
    audit, bookings, brief, changes, classes, cycles, feed, floor, health, hour, hours, import, kit, learnt,
    loads, log, members, mine, pacing, people, progress, record, schools, set_up, settings, sheet, sheets,
    signin, start, stimulus, timetable, variants, versions, warm_up, ways, words,
};
use actix_web::web::{ServiceConfig, get, post, resource};

/// All routes.
pub fn routes(c: &mut ServiceConfig) {
    ground_routes(c);
    session_routes(c);
    people_routes(c);
    classes_routes(c);
    sheet_routes(c);
    plan_routes(c);
    floor_routes(c);
    logbook_routes(c);
    cycles_routes(c);
    roster_routes(c);
}

/// What everybody may open.
fn ground_routes(c: &mut ServiceConfig) {
    c.route("/static/{name:.*}", get().to(assets::get))
        .route("/healthz", get().to(health::live))
        .route("/readyz", get().to(health::ready))
        .route("/metrics", get().to(health::metrics));
}

/// Coming in and going out.
fn session_routes(c: &mut ServiceConfig) {
    c.route("/", get().to(signin::home))
        .service(resource("/sign-in").route(get().to(signin::show)).route(post().to(signin::sign_in)))
        .service(
            resource("/sign-in/code")
                .route(get().to(people::second::ask))
                .route(post().to(people::second::answer)),
        )
        .service(
            resource("/sign-in/forgotten")
                .route(get().to(people::forgotten::show))
                .route(post().to(people::forgotten::ask)),
        )
        .route("/sign-out", post().to(signin::sign_out))
        .route("/theme/{word}", get().to(signin::theme));
}

/// Halls and the people who sign in.
fn people_routes(c: &mut ServiceConfig) {
    c.service(resource("/set-up").route(get().to(set_up::show)).route(post().to(set_up::set_up)))
        .route("/start", get().to(start::show))
        .route("/people", get().to(people::show))
        .route("/people/invite", post().to(people::invite))
        .route("/people/{id}/reset", post().to(people::reset))
        .route("/people/{id}/remove", post().to(people::remove))
        .route("/people/{id}/role", post().to(people::role))
        .route("/people/links/{id}/withdraw", post().to(people::withdraw))
        .service(
            resource("/join/{token}")
                .route(get().to(people::join::show))
                .route(post().to(people::join::join)),
        )
        .route("/changes", get().to(audit::show))
        .route("/words", get().to(words::show))
        .route("/own", get().to(people::own::show))
        .route("/own/password", post().to(people::own::password))
        .route("/own/email", post().to(people::own::email))
        .route("/own/hall", post().to(people::halls::switch))
        .route("/own/others", post().to(people::own::others))
        .route("/own/keys", post().to(people::own::keys))
        .service(
            resource("/own/second")
                .route(get().to(people::second::show))
                .route(post().to(people::second::begin)),
        )
        .route("/own/second/prove", post().to(people::second::prove))
        .route("/own/second/codes", post().to(people::second::codes))
        .route("/own/second/off", post().to(people::second::off))
        .route("/people/second", post().to(people::demand))
        .route("/people/{id}/second", post().to(people::second_off));
}

/// The week and its classes.
fn classes_routes(c: &mut ServiceConfig) {
    c.route("/classes", get().to(classes::week))
        .service(resource("/classes/new").route(get().to(classes::new)).route(post().to(classes::add)))
        .service(
            resource("/classes/{id}/bookings")
                .route(get().to(bookings::show))
                .route(post().to(bookings::change)),
        )
        .route("/classes/{id}/came", post().to(bookings::came))
        .service(resource("/timetable").route(get().to(timetable::show)).route(post().to(timetable::add)))
        .route("/feed/{hall}", post().to(feed::take))
        .service(resource("/timetable/feed").route(get().to(feed::show)).route(post().to(feed::renew)))
        .route("/timetable/feed/end", post().to(feed::end))
        .route("/timetable/feed/{id}/settle", post().to(feed::settle))
        .route("/timetable/make", post().to(timetable::make))
        .route("/timetable/{id}/end", post().to(timetable::end))
        .route("/classes/{id}", get().to(classes::open))
        .service(resource("/classes/{id}/when").route(get().to(hours::show)).route(post().to(hours::change)))
        .route("/classes/{id}/cancel", post().to(hours::cancel))
        .route("/classes/{id}/repeat", post().to(hours::repeat))
        .route("/classes/{id}/undo", post().to(classes::undo))
        .route("/classes/{id}/changes", get().to(changes::show));
}

/// The sheet of a class.
fn sheet_routes(c: &mut ServiceConfig) {
    c.service(resource("/classes/{id}/sheet").route(get().to(sheet::show)).route(post().to(sheet::save)))
        .route("/classes/{id}/sheet/read", post().to(sheet::read_part))
        .route("/classes/{id}/sheet/check", post().to(sheet::check))
        .route("/classes/{id}/sheet/take", post().to(sheet::take))
        .route("/classes/{id}/sheet/choose", post().to(sheet::choose))
        .route("/classes/{id}/sheet/canonical", post().to(sheet::tidy))
        .route("/classes/{id}/sheet/copy", post().to(sheet::copy))
        .route("/classes/{id}/sheet/discard", post().to(sheet::discard))
        .route("/sheet-words", get().to(sheet::completions))
        .route("/sheets", get().to(sheets::show));
}

/// The steps of a plan.
fn plan_routes(c: &mut ServiceConfig) {
    c.service(
        resource("/classes/{id}/stimulus").route(get().to(stimulus::show)).route(post().to(stimulus::change)),
    )
    .route("/classes/{id}/hour", get().to(hour::show))
    .route("/classes/{id}/length", post().to(hour::length))
    .route("/classes/{id}/running", post().to(hour::running))
    .service(resource("/classes/{id}/ways").route(get().to(ways::show)).route(post().to(ways::take)))
    .route("/classes/{id}/warm-up", get().to(warm_up::show))
    .route("/classes/{id}/swap", post().to(warm_up::swap))
    .route("/classes/{id}/loads", get().to(loads::show))
    .route("/classes/{id}/load", post().to(loads::load))
    .route("/classes/{id}/move", post().to(loads::to_rack))
    .route("/classes/{id}/fit", post().to(loads::fit))
    .route("/classes/{id}/bases", post().to(loads::bases))
    .service(
        resource("/classes/{id}/rack/{n}")
            .route(get().to(loads::rack::show))
            .route(post().to(loads::rack::change)),
    )
    .route("/classes/{id}/versions", get().to(versions::show))
    .route("/classes/{id}/version", post().to(versions::version))
    .route("/classes/{id}/suggest", post().to(versions::suggest))
    .service(
        resource("/classes/{id}/schools").route(get().to(schools::show)).route(post().to(schools::answer)),
    )
    .service(
        resource("/classes/{id}/variants")
            .route(get().to(variants::show))
            .route(post().to(variants::to_sheet)),
    )
    .route("/classes/{id}/pacing", get().to(pacing::show));
}

/// Wall, cards and papers.
fn floor_routes(c: &mut ServiceConfig) {
    c.route("/classes/{id}/brief", get().to(brief::show))
        .route("/classes/{id}/floor", get().to(floor::cards::show))
        .route("/classes/{id}/sent", post().to(floor::cards::sent))
        .route("/classes/{id}/paper/{what}", get().to(floor::papers::show))
        .route("/classes/{id}/wall", get().to(floor::wall::show))
        .route("/classes/{id}/wall/racks", get().to(floor::racks::show))
        .service(
            resource("/classes/{id}/clock")
                .route(get().to(floor::wall::now))
                .route(post().to(floor::wall::clock)),
        )
        .route("/classes/{id}/clock/events", get().to(floor::wall::events))
        .route("/card/worker.js", get().to(floor::kept::worker))
        .route("/card/{token}", get().to(floor::card::show))
        .route("/card/{token}/manifest", get().to(floor::kept::manifest))
        .route("/card/{token}/clock", get().to(floor::kept::clock));
}

/// The log and the track record.
fn logbook_routes(c: &mut ServiceConfig) {
    c.service(resource("/classes/{id}/log").route(get().to(log::show)).route(post().to(log::log)))
        .service(
            resource("/classes/{id}/finish").route(get().to(finish::show)).route(post().to(finish::done)),
        )
        .route("/classes/{id}/finish/back", post().to(finish::back))
        .route("/classes/{id}/finish/behind", get().to(behind::show))
        .route("/classes/{id}/finish/cut", post().to(behind::take))
        .route("/classes/{id}/finish/cut/back", post().to(behind::back))
        .route("/classes/{id}/log/line", post().to(log::line))
        .route("/classes/{id}/log/back", post().to(log::take_back))
        .route("/classes/{id}/log/teach", post().to(log::teach))
        .route("/classes/{id}/log/undo", post().to(log::undo))
        .route("/classes/{id}/log/belong", post().to(log::belong))
        .route("/classes/{id}/log/anew", post().to(log::anew))
        .route("/record", get().to(record::show));
}

/// Cycles of lifts.
fn cycles_routes(c: &mut ServiceConfig) {
    c.route("/cycles", get().to(cycles::list))
        .service(resource("/cycles/new").route(get().to(cycles::new)).route(post().to(cycles::add)))
        .service(resource("/cycles/{id}").route(get().to(cycles::show)).route(post().to(cycles::change)))
        .route("/cycles/{id}/hold", post().to(cycles::hold))
        .route("/cycles/{id}/remove", post().to(cycles::remove));
}

/// Members, kit and settings.
fn roster_routes(c: &mut ServiceConfig) {
    c.route("/members", get().to(members::list))
        .service(resource("/members/new").route(get().to(members::new)).route(post().to(members::add)))
        .route("/members/known.csv", get().to(import::export))
        .service(
            resource("/members/roster")
                .route(get().to(members::table::show))
                .route(post().to(members::table::read)),
        )
        .service(resource("/members/import").route(get().to(import::show)).route(post().to(import::read)))
        .route("/members/proposals", get().to(members::own_page::proposals))
        .route("/members/proposals/{id}", post().to(members::own_page::answer))
        .route("/members/{id}/link", post().to(members::own_page::renew))
        .route("/members/{id}/link/withdraw", post().to(members::own_page::withdraw))
        .service(resource("/mine/{token}").route(get().to(mine::show)).route(post().to(mine::say)))
        .route("/mine/{token}/back/{id}", post().to(mine::back))
        .route("/members/{id}/lifts/{lift}", get().to(progress::show))
        .service(resource("/members/{id}").route(get().to(members::show)).route(post().to(members::change)))
        .route("/learnt", get().to(learnt::hall))
        .service(
            resource("/members/{id}/results").route(get().to(learnt::member)).route(post().to(learnt::teach)),
        )
        .route("/members/{id}/results/forget", post().to(learnt::forget))
        .route("/members/{id}/leave", post().to(members::leave))
        .route("/members/{id}/back", post().to(members::come_back))
        .route("/members/{id}/erase", post().to(members::erase))
        .service(resource("/settings").route(get().to(settings::show)).route(post().to(settings::change)))
        .service(resource("/kit").route(get().to(kit::show)).route(post().to(kit::change)));
}
