// The same hands as tests/wasm/hands.c, through cursimeter.js: prints a digest for each chart and rate. And what is refused.
const assert = require("node:assert");
const { readFileSync } = require("node:fs");
const { load } = require(process.argv[2]);

let dice = 7;
const below = (count) => {
    dice = (Math.imul(dice, 1103515245) + 12345) >>> 0;
    return (dice >>> 16) % count;
};
const read = (file) => readFileSync(file, "utf8");

load().then((cursimeter) => {
    const names = ["bearer", "eel", "gannet", "keeper"], rates = [20, 60, 144];
    for (let i = 0; i < 12; ++i) {
        const name = names[i % 4], rate = rates[Math.floor(i / 4)];
        const chart = cursimeter.chart(read(`demo/charts/${name}.toml`), name);
        const actions = chart.names("actions");
        const course = i % 2 === 0 ? chart.course(read("demo/courses/relay.toml")) : null;
        const runner = chart.spawn();
        const wants = { seconds: 1 / rate, yaw: 0 };
        for (let tick = 0; tick < 2000; ++tick) {
            if (tick % 7 === 0) {
                wants.forward = below(3) / 2;
                wants.side = below(5) / 4 - 0.5;
                const held = below(16);
                wants.held = actions.filter((_, bit) => (held >> bit & 1) === 1);
                wants.facing = below(2) === 1 ? "movement" : "look";
            }
            wants.yaw += below(100) / 1000 - 0.05;
            if (course) course.set_time(tick / rate);
            runner.advance(wants, course);
        }
        console.log(`${name} ${rate} ${runner.digest()}`);
        const copy = runner.copy();
        copy.advance(wants, course);
        assert.notEqual(copy.digest(), runner.digest());
        copy.free();
        runner.free();
        if (course) course.free();
        chart.free();
    }
    const text = read("demo/charts/keeper.toml");
    assert.throws(() => cursimeter.chart(text.replace("stamina >= 10", "stamnia >= 10"), "keeper.toml"),
        /^Error: keeper\.toml:\d+:\d+: .*stamnia.*did you mean 'stamina'\?/);
    const keeper = cursimeter.chart(text).spawn({ x: 1, yaw: 0.5 });
    assert.equal(keeper.read().x, 1);
    assert.equal(keeper.read().state, "walk");
    assert.throws(() => keeper.advance({ held: ["srpint"], seconds: 0.1 }), /'srpint'.*did you mean 'sprint'\?/);
    assert.throws(() => keeper.advance({ seconds: -1 }), /bad seconds/);
    assert.throws(() => keeper.meter("stamnia"), /did you mean 'stamina'\?/);
    assert.throws(() => keeper.chart.course("format = 1\nname = 7\n"), /name/);
    assert.equal(keeper.meter("stamina").level, 100);
    assert.ok(keeper.grant("broth"));
    assert.ok(keeper.push({ y: 1, strength: 4 }));
    assert.throws(() => keeper.push({ y: 1, strength: -4 }), /strength/);
    const events = keeper.advance({ forward: 1, held: ["sprint"], seconds: 0.1 });
    assert.ok(events.some((event) => event.kind === "entered" && event.subject === "sprint" && event.cause === "enter: sprint on"));
    assert.ok(events.some((event) => event.kind === "began" && event.subject === "broth"));
});
