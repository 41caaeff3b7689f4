// SPDX-License-Identifier: MIT
// Runs a UF2 on an emulated RP2040 and writes down what its pins do, to the nanosecond. The emulator (npm package rp2040js) has the
// CPU, DMA, ADC, SPI, timer, pins; its PIO is stepped here by each machine's own divider and delays, and a serial NOR flash is put
// behind its flash interface: it can lose power at any of its operations.
// usage: node emulate.mjs PROGRAM.uf2 MILLISECONDS [--pins FILE] [--press PIN@MS:MS]... [--level PIN@MS=0..4095]...
//        [--sound PIN] [--flash FILE] [--cut N] [--uart FILE]    (which comes in at 1 Mbaud, after 20 ms, with pauses where it says so)
import { createRequire } from 'node:module';
import { readFileSync, writeFileSync, existsSync } from 'node:fs';
const require = createRequire(process.cwd() + '/');
const { RP2040 } = require('rp2040js');

const [image, milliseconds, ...options] = process.argv.slice(2);
const wanted = { presses: [], levels: [] };
for (let i = 0; i < options.length; i += 2) {
  const [name, value] = [options[i], options[i + 1]];
  if (name === '--press') {
    const [, pin, at, lasts] = value.match(/^(\d+)@([\d.]+):([\d.]+)$/);
    wanted.presses.push({ pin: +pin, at: at * 1e6, lasts: lasts * 1e6 });
  } else if (name === '--level') {
    const [, pin, at, level] = value.match(/^(\d+)@([\d.]+)=(\d+)$/);
    wanted.levels.push({ pin: +pin, at: at * 1e6, level: +level });
  } else {
    wanted[name.slice(2)] = value;
  }
}

const mcu = new RP2040();
mcu.logger = { debug() {}, info() {}, warn(who, what) { complain(who, what); }, error(who, what) { complain(who, what); } };
const complaints = new Map();
function complain(who, what) {
  complaints.set(`${who}: ${what}`, (complaints.get(`${who}: ${what}`) ?? 0) + 1);
  if (complaints.size > 20) throw new Error(`the program is lost: ${[...complaints.keys()].join('; ')} (last ${mcu.core.PC.toString(16)}, back to ${mcu.core.LR.toString(16)})`);
}
const now = () => mcu.clock.nanos;

// ---- the flash: W25Q-like commands behind the SSI, NOR rules ----
class PowerCut extends Error {}
const STORE = 2 * 1024 * 1024 - 65536;
let operations = 0;
const flash = {
  memory: true, // the CPU may read it
  selected: false, bytes: [], writable: false, busyUntil: 0, out: [],
  tear() { // this operation is the one during which the power goes
    return wanted.cut !== undefined && ++operations === +wanted.cut;
  },
  finish() {
    const [code, a, b, c, ...data] = this.bytes;
    const at = (a << 16) | (b << 8) | c;
    this.bytes = [];
    if (code === 0x06) this.writable = true;
    if ((code === 0x02 || code === 0x20) && (!this.writable || at < STORE || at >= STORE + 65536)) throw new Error(`flash: ${code.toString(16)} at ${at.toString(16)}`);
    if (code === 0x02) {
      const torn = this.tear();
      for (let i = 0; i < data.length; i++) {
        const to = (at & ~255) | ((at + i) & 255);
        if (torn && i >= data.length / 2) { // half of the bytes, and some bits of one more
          mcu.flash[to] &= data[i] | 0x5a;
          throw new PowerCut();
        }
        mcu.flash[to] &= data[i];
      }
      if (wanted.cut === undefined) operations++;
      this.busyUntil = now() + 400000;
      this.writable = false;
    } else if (code === 0x20) {
      const torn = this.tear();
      for (let i = 0; i < 4096; i++) mcu.flash[(at & ~4095) + i] = torn && i % 3 ? mcu.flash[(at & ~4095) + i] | (i * 37 & 255) : 0xff;
      if (torn) throw new PowerCut();
      if (wanted.cut === undefined) operations++;
      this.busyUntil = now() + 45e6;
      this.writable = false;
    }
  },
  select(is) {
    if (this.selected && !is) this.finish();
    this.selected = is;
  },
  exchange(byte) {
    if (!this.selected) return 0xff;
    this.bytes.push(byte);
    return this.bytes[0] === 0x05 && this.bytes.length > 1 ? (now() < this.busyUntil ? 1 : 0) : 0;
  },
};
const ssi = { registers: {}, read: [] };
const peripheral = (read, write) => ({
  readUint32: read,
  writeUint32Atomic(offset, value, kind) {
    write(offset, kind === 0 ? value : kind === 2 ? read(offset) | value : kind === 3 ? read(offset) & ~value : read(offset) ^ value);
  },
});
mcu.peripherals[0x18000] = peripheral(
  (offset) => (offset === 0x28 ? 0x06 | (ssi.read.length ? 8 : 0) : offset === 0x60 ? ssi.read.shift() ?? 0 : ssi.registers[offset] ?? 0),
  (offset, value) => {
    if (offset === 0x60) {
      mcu.clock.tick(8 * 32); // eight bits at clk_sys / 4
      ssi.read.push(flash.exchange(value & 255));
    } else {
      ssi.registers[offset] = value;
      flash.memory = ssi.registers[8] === 1 && ((ssi.registers[0] >> 8) & 3) === 3 && ssi.registers[0xf4] === 0x03000218;
    }
  });
mcu.peripherals[0x40018] = peripheral(() => 0, (offset, value) => {
  if (offset === 0x0c) flash.select((value >> 8 & 3) === 2);
});
mcu.peripherals[0x14000] = peripheral(() => 1, () => {});

// ---- the program ----
const uf2 = readFileSync(image);
for (let at = 0; at < uf2.length; at += 512) {
  const to = uf2.readUInt32LE(at + 12) - 0x10000000;
  mcu.flash.set(uf2.subarray(at + 32, at + 32 + uf2.readUInt32LE(at + 16)), to);
}
if (wanted.flash && existsSync(wanted.flash)) mcu.flash.set(readFileSync(wanted.flash), STORE);
let crc = 0xffffffff; // as the chip's ROM: without it nothing is run
for (let i = 0; i < 252; i++) {
  crc ^= mcu.flash[i] << 24;
  for (let bit = 0; bit < 8; bit++) crc = crc & 0x80000000 ? (crc << 1) ^ 0x04c11db7 : crc << 1;
}
if ((crc >>> 0) !== mcu.flashView.getUint32(252, true)) {
  console.log('the checksum of the first 256 bytes is wrong');
  process.exit(1);
}
mcu.core.PC = 0x10000000;
mcu.core.SP = 0x20041f00;

// ---- PIO: each machine by its own clock ----
const CYCLE = 8; // ns, at 125 MHz
const edges = [];
const machines = [];
for (const pio of mcu.pio) {
  pio.run = () => {};
  pio.seen = 0;
  for (const machine of pio.machines) machines.push({ pio, machine, at: 0, cycles: 0 });
}
function period(machine) {
  return CYCLE * (machine.clockDivInt + machine.clockDivFrac / 256);
}
function notePins(pio, index, at) {
  const changed = pio.pinValues ^ pio.seen;
  pio.seen = pio.pinValues;
  for (let pin = 0; changed >>> pin; pin++) {
    if (changed >>> pin & 1 && mcu.gpio[pin].functionSelect === 6 + index && pio.pinDirections >>> pin & 1) {
      edges.push({ at, pin, level: pio.pinValues >>> pin & 1 });
    }
  }
}
let nextPio = 0;
function stepPio(until) {
  nextPio = Infinity;
  for (const it of machines) {
    const { pio, machine } = it;
    if (!machine.enabled) {
      it.at = until;
      it.cycles = machine.cycles;
      continue;
    }
    if (machine.cycles !== it.cycles) { // it went on by itself when a word came
      it.at = Math.max(it.at, until) + Math.max(0, machine.cycles - it.cycles) * period(machine);
      it.cycles = machine.cycles;
    }
    while (it.at <= until) {
      if (machine.waiting) {
        machine.checkWait();
        if (machine.waiting) {
          it.at = until;
          break;
        }
      } else {
        machine.step();
        notePins(pio, pio.index, it.at);
      }
      it.at += Math.max(0, machine.cycles - it.cycles) * period(machine) || (machine.waiting ? 0 : period(machine));
      it.cycles = machine.cycles;
      if (machine.waiting) break;
    }
    if (!machine.waiting) nextPio = Math.min(nextPio, it.at);
  }
}

// ---- SPI: what leaves it, with its clock ----
const shifted = [[], []];
mcu.spi.forEach((spi, i) => {
  const done = mcu.clock.createAlarm(() => spi.completeTransmit(0));
  spi.onTransmit = (value) => {
    shifted[i].push({ at: now(), value });
    done.schedule(8e9 / spi.clockFrequency);
  };
});

// ---- the ADC: its turns (the emulator's own stay with the first pin), a tone on the microphone's ----
const levels = [2048, 2048, 2048, 2048, 0];
let turn = -1;
const sampled = mcu.clock.createAlarm(() => {
  const pin = turn + 26;
  mcu.adc.completeADCRead(pin === +wanted.sound ? Math.round(2048 + 900 * Math.sin(2 * Math.PI * 440 * now() / 1e9)) : levels[turn], false);
});
mcu.adc.onADCRead = () => {
  const round = mcu.adc.cs >> 16 & 31;
  do turn = (turn + 1) % 5; while (!(round >> turn & 1));
  sampled.schedule(2000);
};

// ---- what hands do ----
const inputs = [];
const bounces = [0, 0.18e6, 0.26e6, 0.9e6, 1.1e6, 2.3e6, 2.4e6];
for (const { pin, at, lasts } of wanted.presses) {
  bounces.forEach((later, i) => inputs.push({ at: at + later, pin, level: i % 2 }, { at: at + lasts + later, pin, level: (i + 1) % 2 }));
  mcu.gpio[pin].setInputValue(true);
}
for (const { pin, at, level } of wanted.levels) inputs.push({ at, pin, analog: level });
inputs.sort((a, b) => a.at - b.at);

// ---- what a serial line brings: ten bits a byte at 1 Mbaud; after each packet that ends a frame, the line rests for 6 ms ----
if (wanted.uart) {
  const bytes = readFileSync(wanted.uart);
  let at = 20e6;
  let next = 0;
  const alarm = mcu.clock.createAlarm(() => {
    mcu.uart[0].feedByte(bytes[next++]);
    if (next < bytes.length) alarm.schedule(pauses.has(next) ? 6e6 : 10000);
  });
  const pauses = new Set();
  for (let i = 0; i + 10 <= bytes.length;) { // packets: mark, output, flags, count
    const size = 10 + bytes.readUInt16LE(i + 4);
    if (bytes[i + 3] & 1) pauses.add(i + size);
    i += size;
  }
  alarm.schedule(at);
}

// ---- the run ----
let line = '';
mcu.uart[0].onByte = (byte) => {
  if (byte === 10) {
    console.log(line);
    line = '';
  } else {
    line += String.fromCharCode(byte);
  }
};
const end = milliseconds * 1e6;
let working = 0;
let cut = false;
try {
  while (now() < end) {
    const core = mcu.core;
    while (inputs.length && now() >= inputs[0].at) {
      const input = inputs.shift();
      if (input.analog === undefined) mcu.gpio[input.pin].setInputValue(!!input.level);
      else levels[input.pin - 26] = input.analog;
    }
    if (core.waiting) {
      const next = Math.min(mcu.clock.nanosToNextAlarm || CYCLE, inputs.length ? Math.max(CYCLE, inputs[0].at - now()) : Infinity, Math.max(CYCLE, nextPio - now()));
      mcu.clock.tick(next);
    } else {
      if (!flash.memory && core.PC >= 0x10000100 && core.PC < 0x11000000) throw new Error(`code at ${core.PC.toString(16)} runs from the flash while it is being programmed`);
      const took = core.executeInstruction() * CYCLE;
      working += took;
      mcu.clock.tick(took);
    }
    if (now() >= nextPio || !core.waiting) stepPio(now());
  }
} catch (error) {
  if (!(error instanceof PowerCut)) throw error;
  cut = true;
}
if (wanted.flash) writeFileSync(wanted.flash, mcu.flash.subarray(STORE, STORE + 65536));
if (wanted.pins) {
  edges.sort((a, b) => a.at - b.at);
  const bytes = Buffer.alloc(edges.length * 8 + shifted.flat().length * 8);
  edges.forEach((edge, i) => {
    bytes.writeUIntLE(Math.round(edge.at), i * 8, 6);
    bytes[i * 8 + 6] = edge.pin;
    bytes[i * 8 + 7] = edge.level;
  });
  let at = edges.length * 8; // bytes of an SPI: pin 128 and its number
  shifted.forEach((list, spi) => list.forEach(({ at: time, value }) => {
    bytes.writeUIntLE(Math.round(time), at, 6);
    bytes[at + 6] = 128 + spi;
    bytes[at + 7] = value;
    at += 8;
  }));
  writeFileSync(wanted.pins, bytes);
}
for (const [what, count] of complaints) console.log(`emulator: ${what} (${count} times)`);
console.log(`cpu: ${(working / now() * 100).toFixed(1)} % at 125 MHz; flash: ${operations} operations${cut ? ', power cut' : ''}`);
process.exit(0);
