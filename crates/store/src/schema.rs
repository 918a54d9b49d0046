//! Tables as Diesel sees them; kept in step with the migrations by the store's tests, which read and write every one.
#![allow(missing_docs)]

diesel::table! {
    gyms (id) {
        id -> Uuid,
        name -> Text,
        place -> Text,
        settings -> Jsonb,
        demo -> Bool,
        created_at -> Timestamptz,
        second_factor -> Bool,
        zone -> Nullable<Text>,
        week_from -> SmallInt,
    }
}
diesel::table! {
    accounts (gym_id, id) {
        gym_id -> Uuid,
        id -> Uuid,
        email -> Text,
        name -> Text,
        role -> Text,
        password_hash -> Text,
        created_at -> Timestamptz,
        single_keys -> Bool,
    }
}
diesel::table! {
    drafts (gym_id, session_id, account_id) {
        gym_id -> Uuid,
        session_id -> Uuid,
        account_id -> Uuid,
        body -> Text,
        made_at -> Timestamptz,
    }
}
diesel::table! {
    links (gym_id, id) {
        gym_id -> Uuid,
        id -> Uuid,
        account_id -> Nullable<Uuid>,
        email -> Text,
        name -> Text,
        role -> Text,
        token_hash -> Text,
        made_by -> Text,
        made_at -> Timestamptz,
        ends_at -> Timestamptz,
    }
}
diesel::table! {
    sign_ins (gym_id, id) {
        gym_id -> Uuid,
        id -> Uuid,
        account_id -> Uuid,
        csrf -> Text,
        created_at -> Timestamptz,
        whole -> Bool,
    }
}
diesel::table! {
    member_links (gym_id, member_id) {
        gym_id -> Uuid,
        member_id -> Uuid,
        token_hash -> Text,
        made_by -> Text,
        made_at -> Timestamptz,
        ends_at -> Timestamptz,
        opened_at -> Nullable<Timestamptz>,
    }
}
diesel::table! {
    proposals (gym_id, id) {
        gym_id -> Uuid,
        id -> Uuid,
        member_id -> Uuid,
        body -> Jsonb,
        made_at -> Timestamptz,
    }
}
diesel::table! {
    audit (gym_id, id) {
        gym_id -> Uuid,
        id -> Uuid,
        at -> Timestamptz,
        account_id -> Uuid,
        by_name -> Text,
        deed -> Text,
        subject -> Nullable<Uuid>,
        detail -> Text,
    }
}
diesel::table! {
    feeds (gym_id) {
        gym_id -> Uuid,
        secret -> Text,
        made_by -> Text,
        made_at -> Timestamptz,
    }
}
diesel::table! {
    feed_events (gym_id, id) {
        gym_id -> Uuid,
        id -> Uuid,
        event -> Text,
        at -> Timestamptz,
        what -> Text,
        starts_at -> Timestamp,
        member -> Text,
        outcome -> Text,
    }
}
diesel::table! {
    tries (key_hash) {
        key_hash -> Text,
        taken -> Integer,
        since -> Timestamptz,
    }
}
diesel::table! {
    known_doors (gym_id, account_id, key_hash) {
        gym_id -> Uuid,
        account_id -> Uuid,
        key_hash -> Text,
        at -> Timestamptz,
    }
}
diesel::table! {
    second_factors (gym_id, account_id) {
        gym_id -> Uuid,
        account_id -> Uuid,
        secret -> Bytea,
        proven_at -> Nullable<Timestamptz>,
        last_step -> Int8,
    }
}
diesel::table! {
    recovery_codes (gym_id, account_id, code_hash) {
        gym_id -> Uuid,
        account_id -> Uuid,
        code_hash -> Text,
    }
}
diesel::table! {
    members (gym_id, id) {
        gym_id -> Uuid,
        id -> Uuid,
        name -> Text,
        standard -> Text,
        level -> Text,
        body_mass_kg -> Nullable<Double>,
        stature_cm -> Nullable<Double>,
        sessions_before -> Integer,
        hooks -> Nullable<Integer>,
        left_on -> Nullable<Date>,
    }
}
diesel::table! {
    maxes (gym_id, id) {
        gym_id -> Uuid,
        id -> Uuid,
        member_id -> Uuid,
        lift -> Text,
        kg -> Double,
        reps -> Integer,
        reserve -> Integer,
        on_date -> Nullable<Date>,
    }
}
diesel::table! {
    bests (gym_id, id) {
        gym_id -> Uuid,
        id -> Uuid,
        member_id -> Uuid,
        movement -> Text,
        reps -> Double,
        on_date -> Nullable<Date>,
    }
}
diesel::table! {
    trials (gym_id, id) {
        gym_id -> Uuid,
        id -> Uuid,
        member_id -> Uuid,
        test -> Text,
        seconds -> Double,
        on_date -> Nullable<Date>,
    }
}
diesel::table! {
    limits (gym_id, member_id, spares) {
        gym_id -> Uuid,
        member_id -> Uuid,
        spares -> Text,
    }
}
diesel::table! {
    kit (gym_id, kind, size) {
        gym_id -> Uuid,
        kind -> Text,
        size -> Double,
        count -> Integer,
    }
}
diesel::table! {
    sessions (gym_id, id) {
        gym_id -> Uuid,
        id -> Uuid,
        on_date -> Date,
        sheet -> Text,
        changed_at -> Timestamptz,
        choices -> Jsonb,
        blocks -> Jsonb,
        version -> Integer,
    }
}
diesel::table! {
    classes (gym_id, id) {
        gym_id -> Uuid,
        id -> Uuid,
        session_id -> Uuid,
        starts_at -> Timestamp,
        length_s -> Nullable<Integer>,
        coach_id -> Nullable<Uuid>,
        seed -> BigInt,
        clock_started_at -> Nullable<Timestamptz>,
        clock_paused_at -> Nullable<Timestamptz>,
        cancelled_at -> Nullable<Timestamptz>,
        places -> Nullable<Integer>,
        regular_id -> Nullable<Uuid>,
        regular_on -> Nullable<Date>,
        wall_stage -> Nullable<Text>,
        stage_clocks -> Jsonb,
    }
}
diesel::table! {
    regular_classes (gym_id, id) {
        gym_id -> Uuid,
        id -> Uuid,
        weekday -> SmallInt,
        at -> Time,
        length_s -> Nullable<Integer>,
        places -> Nullable<Integer>,
        coach_id -> Nullable<Uuid>,
        from_day -> Date,
        until_day -> Nullable<Date>,
    }
}
diesel::table! {
    bookings (gym_id, class_id, member_id) {
        gym_id -> Uuid,
        class_id -> Uuid,
        member_id -> Uuid,
        position -> Integer,
        card_token -> Text,
        came -> Nullable<Text>,
        card_sent_at -> Nullable<Timestamptz>,
        card_opened_at -> Nullable<Timestamptz>,
        card_paper_at -> Nullable<Timestamptz>,
    }
}
diesel::table! {
    decisions (gym_id, id) {
        gym_id -> Uuid,
        id -> Uuid,
        class_id -> Uuid,
        body -> Jsonb,
        made_at -> Timestamptz,
        by_account -> Nullable<Uuid>,
        undone_at -> Nullable<Timestamptz>,
    }
}
diesel::table! {
    results (gym_id, class_id, member_id, block) {
        gym_id -> Uuid,
        class_id -> Uuid,
        member_id -> Uuid,
        block -> Integer,
        outcome -> Jsonb,
        tier -> Text,
        load_kg -> Nullable<Double>,
        note -> Text,
        logged_at -> Timestamptz,
        volume -> Jsonb,
        on_date -> Date,
        judged -> Bool,
        slot -> Nullable<SmallInt>,
        inside -> Nullable<Bool>,
        foretold_by -> Nullable<Text>,
        late -> Nullable<Double>,
        better_sd -> Nullable<Double>,
        worse_sd -> Nullable<Double>,
        format -> Nullable<Text>,
        limited_by -> Nullable<Text>,
        left_out -> Nullable<Text>,
        off_middle -> Nullable<Double>,
        half -> Nullable<Double>,
        window_said -> Nullable<Double>,
        window_came -> Nullable<Bool>,
        cap_said -> Nullable<Double>,
        cap_came -> Nullable<Bool>,
        own_results -> Nullable<Integer>,
        unjudged -> Nullable<Text>,
    }
}
diesel::table! {
    record_months (gym_id, month) {
        gym_id -> Uuid,
        month -> Date,
        changes -> BigInt,
        body -> Jsonb,
    }
}
diesel::table! {
    cuts (gym_id, id) {
        gym_id -> Uuid,
        id -> Uuid,
        class_id -> Uuid,
        member_id -> Uuid,
        block -> Integer,
        passed -> Jsonb,
        shout -> Jsonb,
        made_by -> Text,
        made_at -> Timestamptz,
        back_at -> Nullable<Timestamptz>,
    }
}
diesel::table! {
    shown_plans (gym_id, id) {
        gym_id -> Uuid,
        id -> Uuid,
        class_id -> Uuid,
        body -> Jsonb,
        why -> Text,
        shown_at -> Timestamptz,
    }
}
diesel::table! {
    member_days (gym_id, member_id, on_date) {
        gym_id -> Uuid,
        member_id -> Uuid,
        on_date -> Date,
        results -> Integer,
    }
}
diesel::table! {
    log_days (gym_id, on_date) {
        gym_id -> Uuid,
        on_date -> Date,
        changes -> BigInt,
    }
}
diesel::table! {
    frozen_plans (gym_id, class_id) {
        gym_id -> Uuid,
        class_id -> Uuid,
        body -> Jsonb,
        frozen_at -> Timestamptz,
        inputs -> Nullable<Jsonb>,
    }
}
diesel::table! {
    result_changes (gym_id, id) {
        gym_id -> Uuid,
        id -> Uuid,
        class_id -> Uuid,
        member_id -> Uuid,
        block -> Integer,
        was -> Nullable<Jsonb>,
        became -> Nullable<Jsonb>,
        by_name -> Text,
        made_at -> Timestamptz,
    }
}
diesel::table! {
    done_keys (gym_id, key) {
        gym_id -> Uuid,
        key -> Uuid,
        made_at -> Timestamptz,
    }
}
diesel::table! {
    lifted_sets (gym_id, class_id, member_id, block, lift, number) {
        gym_id -> Uuid,
        class_id -> Uuid,
        member_id -> Uuid,
        block -> Integer,
        lift -> Integer,
        number -> Integer,
        movement -> Text,
        kg -> Double,
        reps -> Integer,
        reserve -> Nullable<Integer>,
        missed -> Bool,
        logged_at -> Timestamptz,
    }
}
diesel::table! {
    cycles (gym_id, id) {
        gym_id -> Uuid,
        id -> Uuid,
        starts_on -> Date,
        body -> Jsonb,
    }
}
diesel::allow_tables_to_appear_in_same_query!(
    gyms,
    accounts,
    sign_ins,
    second_factors,
    recovery_codes,
    members,
    member_links,
    proposals,
    maxes,
    bests,
    trials,
    limits,
    kit,
    sessions,
    classes,
    regular_classes,
    bookings,
    decisions,
    results,
    log_days,
    record_months,
    member_days,
    cuts,
    shown_plans,
    frozen_plans,
    result_changes,
    lifted_sets,
    cycles
);
