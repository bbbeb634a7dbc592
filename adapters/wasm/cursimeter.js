// Cursimeter in JavaScript: charts, runners and courses over the WebAssembly build (scripts/wasm), in browsers and under node.
//
//     const cursimeter = await load();                       // in a browser, after both scripts: await loadCursimeter()
//     const chart = cursimeter.chart(text, "bearer.toml");   // throws an Error with every mistake
//     const runner = chart.spawn({ x: 0, y: 0, z: 0, yaw: 0 });
//     for (const event of runner.advance({ forward: 1, held: ["sprint"], seconds: 1 / 60 })) console.log(event.kind, event.subject);
//     console.log(runner.read().x, runner.meter("stamina").level);
//
// Units: m, s, rad. What was made lives until its free() is called.
"use strict";
const make_cursimeter = async (core) => {
    const c = await core();
    const lists = { states: 0, actions: 1, meters: 2, cooldowns: 3, modifiers: 4, blocks: 5, zones: 6 };
    const fields = ["x", "y", "z", "vx", "vy", "vz", "speed", "speed_target", "distance", "yaw", "pitch", "clock", "time_in_state",
        "state", "grounded", "by_wall"];
    const room = c._malloc(8 * 8 * 128);  // for what goes in and what comes out of one call
    const give = (numbers) => { c.HEAPF64.set(numbers, room / 8); return room; };
    const take = (count) => Array.from(c.HEAPF64.subarray(room / 8, room / 8 + count));
    const text = (address) => c.UTF8ToString(address);
    const with_text = (words, use) => {
        const bytes = c.lengthBytesUTF8(words) + 1, address = c._malloc(bytes);
        c.stringToUTF8(words, address, bytes);
        try { return use(address); } finally { c._free(address); }
    };
    const checked = (made) => { if (!made) throw new Error(text(c._flat_error())); return made; };
    let files = 0;

    class Runner {
        constructor(chart, address) { this.chart = chart; this.address = address; }
        /** One tick: { forward, side, yaw, pitch, held: [names], facing: "look" | "movement", seconds }. Returns its events. */
        advance(wants, course) {
            let held = 0;
            for (const name of wants.held ?? []) held |= 1 << this.chart.find("actions", name);
            give([wants.forward ?? 0, wants.side ?? 0, wants.yaw ?? 0, wants.pitch ?? 0, held >>> 0,
                wants.facing === "movement" ? 1 : 0, wants.seconds]);
            const count = c._flat_advance(this.chart.address, this.address, room, course ? course.address : 0, room);
            if (count < 0) throw new Error(text(c._cursimeter_refusal_name(-1 - count)));
            const rows = take(8 * count), events = [];
            for (let i = 0; i < rows.length; i += 8) {
                const [at, value, kind, subject, list, cause, term, which] = rows.slice(i, i + 8);
                const event = { at, value, which, kind: text(c._cursimeter_event_name(kind)),
                    subject: this.chart.name(list, subject) };
                if (event.kind === "entered" || event.kind === "refused") event.cause = text(c._flat_cause(this.chart.address, cause, term));
                events.push(event);
            }
            return events;
        }
        /** How it is now: { x, y, z, vx, vy, vz, speed, ..., state: "walk", grounded: true }. */
        read() {
            c._flat_read(this.chart.address, this.address, room);
            const now = Object.fromEntries(take(fields.length).map((value, i) => [fields[i], value]));
            return { ...now, state: this.chart.name(0, now.state), grounded: now.grounded === 1, by_wall: now.by_wall === 1 };
        }
        meter(name) {
            c._flat_meter(this.chart.address, this.address, this.chart.find("meters", name), room);
            const [level, capacity, fraction, spent] = take(4);
            return { level, capacity, fraction, spent: spent === 1 };
        }
        /** { x, y, z, strength, lift, seconds, locks }: knocks it back. */
        push({ x = 0, y = 0, z = 0, strength, lift = 0, seconds = 0, locks = false }) {
            const done = c._flat_push(this.chart.address, this.address, give([x, y, z, strength, lift, seconds, locks ? 1 : 0]));
            if (done > 1) throw new Error(text(c._flat_error()));
            return done === 0;
        }
        grant(modifier) { return c._flat_grant(this.chart.address, this.address, this.chart.find("modifiers", modifier)) === 0; }
        /** 16 hexadecimal digits: the same on every machine for the same run. */
        digest() { return text(c._flat_digest(this.address)); }
        copy() { return new Runner(this.chart, checked(c._flat_copy(this.address))); }
        free() { c._free(this.address); this.address = 0; }
    }
    class Course {
        constructor(address) { this.address = address; }
        /** Where its platforms stand as the next tick begins, s. */
        set_time(seconds) { c._cursimeter_terrain_set_time(this.address, seconds); }
        free() { c._cursimeter_terrain_free(this.address); this.address = 0; }
    }
    class Chart {
        constructor(address) { this.address = address; this.known = new Map(); }
        spawn({ x = 0, y = 0, z = 0, yaw = 0 } = {}) { return new Runner(this, checked(c._flat_spawn(this.address, give([x, y, z, yaw])))); }
        /** A world from the text of a course file. */
        course(words) {
            const file = `/course-${files++}.toml`;
            c.FS.writeFile(file, words);
            try { return new Course(checked(with_text(file, (name) => c._flat_course(this.address, name)))); } finally { c.FS.unlink(file); }
        }
        names(list) { return Array.from({ length: c._cursimeter_count(this.address, lists[list]) }, (_, i) => this.name(lists[list], i)); }
        name(list, index) { return text(c._cursimeter_name(this.address, list, index)); }
        find(list, name) {
            const key = `${list} ${name}`;
            if (!this.known.has(key)) {
                const index = with_text(name, (address) => c._flat_find(this.address, lists[list], address));
                if (index < 0) throw new Error(text(c._flat_error()));
                this.known.set(key, index);
            }
            return this.known.get(key);
        }
        free() { c._cursimeter_chart_free(this.address); this.address = 0; }
    }
    return {
        version: text(c._cursimeter_version()),
        chart: (words, name = "chart") =>
            new Chart(checked(with_text(words, (content) => with_text(name, (file) => c._flat_chart(content, file))))),
    };
};
if (typeof module !== "undefined") module.exports = { load: () => make_cursimeter(require("./cursimeter_core.js")) };
else globalThis.loadCursimeter = () => make_cursimeter(globalThis.cursimeter_core);
