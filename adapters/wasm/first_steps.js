// A bearer from JavaScript: load a chart, hand over what is held, advance, read what happened.
const { readFileSync } = require("node:fs");
const { load } = require("./cursimeter.js");

load().then((cursimeter) => {
    const chart = cursimeter.chart(readFileSync("demo/charts/bearer.toml", "utf8"), "bearer.toml");
    const runner = chart.spawn();
    for (let tick = 0; tick < 600; ++tick) {  // ten seconds at 60 ticks a second
        for (const event of runner.advance({ forward: 1, held: ["sprint"], seconds: 1 / 60 })) {
            if (event.kind === "entered") console.log(`${event.subject} (${event.cause})`);
        }
    }
    console.log(`${runner.read().x.toFixed(2)} m, stamina ${runner.meter("stamina").level.toFixed(1)}`);
});
// expected output:
// sprint (enter: sprint on)
// walk (stay failed: stamina > 0)
// 56.31 m, stamina 17.2
