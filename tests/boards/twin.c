/* SPDX-License-Identifier: MIT */
/* The twin of a board: plays the same show on the desk with what was pushed in on the board, and has simulated LED chips read
 * what the board's pins did. Both must be the same bytes, frame by frame, output by output. usage: twin SAID PINS FRAMES
 * FIRST_US FRAME_US [MHZ:FILE...]; the last are the characters that a USART of each output sent, on a bus of so many MHz, in
 * place of pins. Compiled with a show written as C under the name "museum" */
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include <glanz/serial.h>

#include "line.h"
#include "museum.h"

#define OUTPUTS_MOST 10
#define FRAME_GAP_NS 60000u /* a line that rests so long has ended its frame: no chip here waits less */

struct frames { /* of one output: all bytes, one frame after another */
    uint8_t *bytes;
    size_t count, capacity;
    unsigned frames;
};

static struct frames sent[OUTPUTS_MOST], read_back[OUTPUTS_MOST];
static GLANZ_MEMORY_FOR(memory, museum);
static GLANZ_SOUND_MEMORY(sound_memory, 12, 1, 1, 1);
static uint64_t store_memory[2048], values[1024];
static uint8_t flash[65536];

static void add(struct frames *frames, const uint8_t *bytes, size_t count) {
    if (frames->count + count > frames->capacity) {
        frames->capacity = (frames->count + count) * 2;
        frames->bytes = (uint8_t *)realloc(frames->bytes, frames->capacity);
    }
    if (frames->bytes == NULL) {
        exit(3);
    }
    memcpy(frames->bytes + frames->count, bytes, count);
    frames->count += count;
    frames->frames++;
}

/* ---- the desk ---- */

static uint32_t the_time;

static glanz_status start(void *user, const struct glanz_sending *list, uint8_t count) {
    (void)user;
    for (uint8_t i = 0; i < count; i++) {
        add(&sent[list[i].output - museum_rig.outputs], list[i].bytes, list[i].count);
    }
    return GLANZ_OK;
}

static int busy(void *user) {
    (void)user;
    return 0;
}

static uint32_t time_us(void *user) {
    (void)user;
    return the_time;
}

static glanz_status read_flash(void *user, uint32_t at, uint8_t *bytes, size_t count) {
    (void)user;
    memcpy(bytes, flash + at, count);
    return GLANZ_OK;
}

static glanz_status program_flash(void *user, uint32_t at, const uint8_t *bytes, size_t count) {
    (void)user;
    for (size_t i = 0; i < count; i++) {
        flash[at + i] &= bytes[i];
    }
    return GLANZ_OK;
}

static glanz_status erase_flash(void *user, uint32_t sector) {
    (void)user;
    memset(flash + sector * 4096u, 0xFF, 4096);
    return GLANZ_OK;
}

static int play(FILE *said, unsigned frames, uint32_t first_us, uint32_t frame_us) {
    static const struct glanz_sound_setup hears = {&glanz_sound_tempo, &glanz_sound_pitch, &glanz_sound_wave, 12};
    static const struct glanz_port port = {.version = 2, .start = start, .busy = busy, .time_us = time_us};
    static const struct glanz_medium medium = {1,   NULL,  NULL,       NULL,          4096,        16,  1,
                                               700, 60000, read_flash, program_flash, erase_flash, NULL};
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    struct glanz_sound *sound;
    struct glanz_device *device;
    struct glanz_setup setup = glanz_setup_of(&museum_rig, &museum_show, &port, &glanz_everything);
    char line[200];
    unsigned input, value;
    unsigned long at;
    memset(flash, 0xFF, sizeof flash);
    setup.effects = glanz_effects;
    setup.values = values;
    setup.values_size = sizeof values;
    for (uint8_t i = 0; i < museum_rig.input_count; i++) {
        if (museum_rig.inputs[i].kind == GLANZ_INPUT_SOUND) {
            setup.sounds = &sound;
            setup.sound_count = 1;
        }
    }
    if (glanz_store_start(&setup.store, store_memory, sizeof store_memory, &medium, GLANZ_DEVICE_RECORDS, GLANZ_RECORD_MOST) !=
            GLANZ_OK ||
        glanz_sound_start(&sound, &sound_memory, sizeof sound_memory, &hears) != GLANZ_OK ||
        glanz_device_start(&device, &memory, sizeof memory, &setup, &fault) != GLANZ_OK) {
        return glanz_complain(&fault);
    }
    int more = fgets(line, sizeof line, said) != NULL;
    for (unsigned frame = 0; frame < frames; frame++) {
        the_time = first_us + frame * frame_us;
        for (; more; more = fgets(line, sizeof line, said) != NULL) { /* what came before this frame */
            if (sscanf(line, "pushed %u %u %lu", &input, &value, &at) == 3) {
                if ((uint32_t)at >= the_time) {
                    break;
                }
                (void)glanz_device_push(device, (uint8_t)input, (uint16_t)value, (uint32_t)at);
            }
        }
        (void)glanz_device_frame(device, the_time);
        glanz_device_idle(device, frame_us);
    }
    return 0;
}

/* ---- the pins ---- */

struct pin {
    struct line line;
    struct wave wave;
    uint64_t last_ns;
    uint64_t first_ns; /* of the frame */
    uint32_t high_least[2], high_most[2];
};

static struct glanz_board_setup setup;
static struct pin pins[OUTPUTS_MOST];

static void close_frame(uint8_t o) {
    struct pin *pin = &pins[o];
    if (pin->wave.count == 0) {
        return;
    }
    uint8_t bytes[4096];
    size_t count = 0;
    pin->wave.end_ns = pin->last_ns + 1250;
    glanz_line_read(&pin->line, &pin->wave);
    glanz_line_idle(&pin->line, pin->last_ns + 1000000u);
    pin->wave.count = 0;
    const struct glanz_output *output = pin->line.output;
    uint16_t led = 0;
    for (uint8_t s = 0; s < output->stretch_count; s++) {
        const struct glanz_chip *chip = output->stretches[s].chip;
        uint8_t order = output->stretches[s].order == GLANZ_ORDER_CHIP ? chip->order : output->stretches[s].order;
        for (uint16_t i = 0; i < output->stretches[s].leds; i++, led++) {
            const struct glanz_lit *lit = &pin->line.lit[led];
            const uint8_t levels[4] = {lit->red, lit->green, lit->blue, lit->white};
            for (uint8_t position = 0; position < chip->channels; position++) {
                bytes[count++] = levels[glanz_order_channel(order, position)];
            }
        }
    }
    add(&read_back[o], bytes, count);
}

static void edge_at(uint8_t o, uint64_t at_ns, uint8_t level) {
    struct pin *pin = &pins[o];
    if (pin->wave.count != 0 && at_ns - pin->last_ns > FRAME_GAP_NS) {
        close_frame(o);
    }
    if (pin->wave.count == 0 && level == 0) {
        return; /* it becomes an output */
    }
    if (pin->wave.count == pin->wave.capacity) {
        pin->wave.capacity = pin->wave.capacity * 2 + 4096;
        pin->wave.edges = (struct edge *)realloc(pin->wave.edges, pin->wave.capacity * sizeof *pin->wave.edges);
    }
    pin->first_ns = pin->wave.count == 0 ? at_ns : pin->first_ns;
    if (level == 0) {
        uint32_t high = (uint32_t)(at_ns - pin->last_ns);
        int one = high > 500;
        pin->high_least[one] = pin->high_least[one] == 0 || high < pin->high_least[one] ? high : pin->high_least[one];
        pin->high_most[one] = high > pin->high_most[one] ? high : pin->high_most[one];
    }
    pin->last_ns = at_ns;
    struct edge edge = {at_ns, 0, level};
    pin->wave.edges[pin->wave.count++] = edge;
}

static int read_pins(const char *path) {
    uint8_t record[8];
    uint8_t output_of[256];
    uint64_t shifted_ns[2] = {0, 0};
    uint64_t begun_ns = 0; /* of the frame: the first line's first edge */
    uint32_t apart_ns = 0;
    uint64_t spi_last[OUTPUTS_MOST] = {0};
    static struct frames spi[OUTPUTS_MOST];
    FILE *file = fopen(path, "rb");
    (void)shifted_ns;
    if (file == NULL) {
        return 3;
    }
    memset(output_of, 255, sizeof output_of);
    setup.hardware = &museum_rig;
    for (uint8_t o = 0; o < museum_rig.output_count; o++) {
        if (museum_rig.outputs[o].stretches[0].chip->protocol == GLANZ_CLOCKED) {
            output_of[museum_rig.outputs[o].pin == 3 || museum_rig.outputs[o].pin == 19 ? 128 : 129] = o;
        } else if (glanz_line_open(&pins[o].line, &setup, o)) {
            output_of[museum_rig.outputs[o].pin] = o;
        }
    }
    while (fread(record, 1, 8, file) == 8) {
        uint64_t at = 0;
        for (int i = 5; i >= 0; i--) {
            at = at << 8 | record[i];
        }
        uint8_t o = output_of[record[6]];
        if (o == 255) {
            printf("a pin that has no output moves: %u\n", record[6]);
            fclose(file);
            return 1;
        }
        if (record[6] >= 128) {
            if (spi[o].count != 0 && at - spi_last[o] > 1000000u) { /* clocked bytes: taken as they are */
                add(&read_back[o], spi[o].bytes, spi[o].count);
                spi[o].count = 0;
            }
            spi_last[o] = at;
            add(&spi[o], &record[7], 1);
            continue;
        }
        int first = pins[o].wave.count == 0 || at - pins[o].last_ns > FRAME_GAP_NS;
        edge_at(o, at, record[7]);
        if (first && record[7]) { /* do all lines begin together? */
            begun_ns = at - begun_ns > 1000000u ? at : begun_ns;
            uint32_t apart = (uint32_t)(at - begun_ns);
            apart_ns = apart > apart_ns ? apart : apart_ns;
        }
    }
    fclose(file);
    for (uint8_t o = 0; o < museum_rig.output_count; o++) {
        close_frame(o);
        if (spi[o].count != 0) {
            add(&read_back[o], spi[o].bytes, spi[o].count);
        }
    }
    printf("lines begin within %u ns of each other\n", (unsigned)apart_ns);
    return apart_ns > 500;
}

/* The characters of a USART as the waveform that its pin has: ten slots, inverted, by the divider that the board takes. */
static int read_characters(uint8_t o, const char *argument) {
    const struct glanz_output *output = &museum_rig.outputs[o];
    struct glanz_slots slots;
    uint32_t mhz = (uint32_t)atoi(argument);
    const char *colon = strchr(argument, ':');
    FILE *file = colon == NULL ? NULL : fopen(colon + 1, "rb");
    uint64_t at = 1000000;
    size_t count = 0;
    int c;
    setup.hardware = &museum_rig;
    if (file == NULL || glanz_output_slots(output, 5, &slots) != GLANZ_OK || !glanz_line_open(&pins[o].line, &setup, o)) {
        return 3;
    }
    double slot_ns = (slots.slot_ns * mhz + 500u) / 1000u * 1000.0 / mhz;
    while ((c = getc(file)) != EOF) {
        uint8_t level = 0;
        for (int slot = 0; slot < 10; slot++) {
            uint8_t next = slot == 0 ? 1 : slot == 9 ? 0 : !((c >> (slot - 1)) & 1);
            if (next != level) {
                edge_at(o, at + (uint64_t)(slot * slot_ns), next);
                level = next;
            }
        }
        at += (uint64_t)(10 * slot_ns);
        if (++count % glanz_uart_size(&slots, glanz_output_bytes(output)) == 0) {
            at += 1000000; /* the line rests */
        }
    }
    fclose(file);
    close_frame(o);
    return 0;
}

/* What a serial line brought: the frames that a board makes of it. */
static int take_serial(const char *path) {
    static uint8_t room[2 * 65536], bytes[1 << 20];
    static const struct glanz_port port = {.version = 2, .start = start, .busy = busy, .time_us = time_us};
    struct glanz_serial serial;
    FILE *file = fopen(path, "rb");
    if (file == NULL || glanz_serial_begin(&serial, &museum_rig, &port, room, sizeof room) != GLANZ_OK) {
        return 3;
    }
    size_t count = fread(bytes, 1, sizeof bytes, file);
    fclose(file);
    printf("%u frames came over the serial line\n", (unsigned)glanz_serial_take(&serial, bytes, count));
    return 0;
}

/* Frames for it: bytes drawn, some packets damaged. */
static int make_serial(const char *path, unsigned frames) {
    FILE *file = fopen(path, "wb");
    uint32_t random = 7;
    for (unsigned frame = 0; file != NULL && frame < frames; frame++) {
        for (uint8_t o = 0; o < museum_rig.output_count; o++) {
            static uint8_t bytes[65536], packet[65536 + GLANZ_SERIAL_AROUND];
            size_t count = glanz_output_bytes(&museum_rig.outputs[o]);
            for (size_t i = 0; i < count; i++) {
                random = glanz_hash(random);
                bytes[i] = (uint8_t)random;
            }
            size_t size = glanz_serial_pack(packet, o, o + 1 == museum_rig.output_count, bytes, count);
            packet[8] ^= frame % 7 == 3; /* its CRC is wrong then */
            fwrite(packet, 1, size, file);
        }
    }
    return file == NULL || fclose(file) != 0;
}

int main(int argc, char **argv) {
    if (argc == 4 && strcmp(argv[1], "--make-serial") == 0) {
        return make_serial(argv[2], (unsigned)atoi(argv[3]));
    }
    FILE *said = argc >= 6 ? fopen(argv[1], "r") : NULL;
    if (said == NULL) {
        return 2;
    }
    int from_serial = strcmp(argv[3], "serial") == 0;
    int wrong = from_serial ? take_serial(argv[1])
                            : play(said, (unsigned)atoi(argv[3]), (uint32_t)atol(argv[4]), (uint32_t)atol(argv[5]));
    fclose(said);
    for (uint8_t o = 0; argc > 6 && o < museum_rig.output_count; o++) {
        wrong |= 6 + o < argc ? read_characters(o, argv[6 + o]) : 2;
    }
    wrong |= argc > 6 ? 0 : read_pins(argv[2]);
    uint32_t desk = 0;
    uint32_t board = 0;
    for (uint8_t o = 0; o < museum_rig.output_count; o++) {
        struct glanz_misread misread = pins[o].line.misread;
        int same = sent[o].count == read_back[o].count && sent[o].count != 0 &&
                   memcmp(sent[o].bytes, read_back[o].bytes, sent[o].count) == 0;
        desk = glanz_crc32(desk, sent[o].bytes, sent[o].count);
        board = glanz_crc32(board, read_back[o].bytes, read_back[o].count);
        unsigned misreads = misread.pulses + misread.resets + misread.missing + misread.extra;
        printf("%s: %u frames on the desk, %u on the pins, %s; %u misread%s%s; high %u to %u ns, %u to %u ns\n",
               museum_rig.outputs[o].name, sent[o].frames, read_back[o].frames, same ? "the same bytes" : "OTHER BYTES",
               misreads, misreads == 0 ? "" : ": ", misread.first, (unsigned)pins[o].high_least[0],
               (unsigned)pins[o].high_most[0], (unsigned)pins[o].high_least[1], (unsigned)pins[o].high_most[1]);
        wrong |= !same || misreads != 0;
    }
    printf("desk %08x, board %08x\n", (unsigned)desk, (unsigned)board);
    return wrong;
}
