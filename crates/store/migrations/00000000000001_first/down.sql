DROP TABLE frozen_plans, results, decisions, bookings, classes, sessions, kit, limits, trials, bests, maxes, members,
    sign_ins, accounts, gyms;
