/* SPDX-License-Identifier: MIT */
/* The first evening: every way to begin wrongly is answered with which member it is, what it is, and what would do; what macros
 * count is enough; a sending's timer; advice before wiring. */
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/wait.h>
#include <unistd.h>

#include <pty.h>

#include <check.h>

#include <glanz/linux.h>
#include <glanz/match.h>
#include <glanz/nor.h>
#include <glanz/serial.h>

#include "stage.h"
#include "suites.h"

GLANZ_ONE_STRIP(pier, glanz_chip_ws2812b, 60);
GLANZ_ONE_LOOK(glow, pier, glanz_effect_comet);
GLANZ_ONE_LOOK(blaze, pier, glanz_effect_fire);

static uint32_t clock_us;
static GLANZ_MEMORY_FOR(memory, pier);

static struct glanz_setup good_setup(const struct glanz_port *port) {
    return glanz_setup_of(&pier, &glow, port, &glanz_everything);
}

#define SAYS(of, words) ck_assert_msg(strstr((of).text, words) != NULL, "expected \"%s\" in \"%s\"", words, (of).text)

/* ---- start ---- */

static void refuses(const struct glanz_setup *setup, void *at, const char *text) {
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    struct glanz_device *device = NULL;
    ck_assert_int_eq(glanz_device_start(&device, at, sizeof memory, setup, &fault), GLANZ_ERR_ARGUMENT);
    SAYS(fault, text);
    ck_assert_ptr_null(device);
}

START_TEST(start_says_which_member) {
    struct glanz_port port = stage_port_to_nowhere(&clock_us);
    struct glanz_setup setup = good_setup(&port);
    struct glanz_port other = port;
    refuses(&setup, NULL, "the memory is NULL");
    refuses(&setup, memory.bytes + 2, "begins 2 bytes beside");
    setup.rig = NULL;
    refuses(&setup, &memory, "setup.rig is NULL; expected a rig");
    setup = good_setup(&port);
    setup.show = NULL;
    refuses(&setup, &memory, "setup.show is NULL");
    setup = good_setup(NULL);
    refuses(&setup, &memory, "setup.port is NULL");
    setup = good_setup(&other);
    other.version = 7;
    refuses(&setup, &memory, "setup.port->version is 7; expected 2");
    other = port;
    other.start = NULL;
    refuses(&setup, &memory, "setup.port->start is NULL");
    other = port;
    other.busy = NULL;
    refuses(&setup, &memory, "setup.port->busy is NULL");
    other = port;
    other.time_us = NULL;
    refuses(&setup, &memory, "setup.port->time_us is NULL");
    other = port;
    setup.segment_capacity = 200;
    refuses(&setup, &memory, "setup.segment_capacity is 200; expected at most 64");
    ck_assert_uint_eq(glanz_version(), GLANZ_VERSION_NUMBER);
}
END_TEST

/* Whatever the rig, the show and the chips: with the arguments that the message tells, there is enough. */
static const char show_of_two[] = "{'show':'s','looks':{'a':{'effect':'fire'},'b':{'effect':'plain'}},'segments':{"
                                  "'x':{'surface':'s','look':'a','leds':9},'y':{'surface':'s','look':'b','first':9}}}";
static const char show_of_three[] = "{'show':'s','looks':{'a':{'effect':'colony'}},'segments':{'x':{'surface':'s','look':'a'},"
                                    "'y':{'surface':'s','look':'a'},'z':{'surface':'s','look':'a'}},'stack':['x','y','z']}";
static const char *const shows[] = {"{'show':'s','looks':{'a':{'effect':'comet'}},'segments':{'x':{'surface':'s','look':'a'}}}",
                                    show_of_two, show_of_three};
static const char *const chips[] = {"WS2812B", "SK6812-RGBW", "APA102"};

START_TEST(message_tells_arguments_that_do) {
    static struct stage stage;
    char rig[600];
    snprintf(rig, sizeof rig,
             "{'rig':'r','supplies':{'p':{'volts':'5 "
             "V'}},'outputs':{'o':{'pin':4,%s'supply':'p',%s'line':[{'chip':'%s','leds':%d}]}},"
             "'surfaces':{'s':{'strip':[{'output':'o','first':0,'leds':%d}]}}%s}",
             _i % 3 == 2 ? "'clock pin':5," : "",
             _i % 2 == 0   ? ""
             : _i % 3 == 2 ? ""
                           : "'buffers':2,",
             chips[_i % 3], 20 + _i * 31, 20 + _i * 31,
             _i < 5 ? "" : ",'inputs':{'b':{'button':{'pin':2,'pressed':'low'}},'d':{'dial':{'pin':26}}}");
    stage_must_open(&stage, rig, shows[_i % 3]);
    struct glanz_port port = stage_port_to_nowhere(&clock_us);
    struct glanz_setup setup = glanz_setup_of(stage.rig, stage.show, &port, &glanz_everything);
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    struct glanz_device *device = NULL;
    uint64_t little[20];
    unsigned leds, outputs, inputs, segments;
    ck_assert_int_eq(glanz_device_start(&device, little, sizeof little, &setup, &fault), GLANZ_ERR_MEMORY);
    const char *expected = strstr(fault.text, "expected GLANZ_DEVICE_MEMORY(name, ");
    ck_assert_msg(expected != NULL, "%s", fault.text);
    ck_assert_int_eq(
        sscanf(expected, "expected GLANZ_DEVICE_MEMORY(name, %u, %u, %u, %u)", &leds, &outputs, &inputs, &segments), 4);
    size_t size = GLANZ_DEVICE_SIZE(leds, outputs, inputs, segments);
    void *enough = calloc(1, size);
    ck_assert_int_eq(glanz_device_start(&device, enough, size, &setup, &fault), GLANZ_OK);
    ck_assert_uint_ge(size, fault.needed);
    free(enough);
    stage_close(&stage);
}
END_TEST

/* What the macro of one strip counts for a chip is what a rig of it takes; and any effect of the first hour fits. */
#define SAME(chip)                                                                                                             \
    do {                                                                                                                       \
        GLANZ_ONE_STRIP(strip, chip, 77);                                                                                      \
        ck_assert_uint_eq((unsigned)strip_led_bytes, glanz_rig_led_bytes(&strip));                                             \
    } while (0)

START_TEST(one_strip_counts_its_memory) {
    struct glanz_port port = stage_port_to_nowhere(&clock_us);
    struct glanz_setup setup = good_setup(&port);
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    struct glanz_device *device;
    SAME(glanz_chip_ws2812b);
    SAME(glanz_chip_sk6812);
    SAME(glanz_chip_sk6812_rgbw);
    SAME(glanz_chip_ws2811);
    SAME(glanz_chip_ws2811_400);
    SAME(glanz_chip_apa102);
    SAME(glanz_chip_sk9822);
    ck_assert_uint_eq(glanz_rig_led_bytes(NULL), 0);
    ck_assert_int_eq(glanz_device_start(&device, &memory, sizeof memory, &setup, &fault), GLANZ_OK);
    setup.show = &blaze;
    ck_assert_msg(glanz_device_start(&device, &memory, sizeof memory, &setup, &fault) == GLANZ_OK, "%s", fault.text);
}
END_TEST

START_TEST(board_and_store_say_why) {
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    ck_assert_ptr_null(glanz_board_open(NULL, &fault));
    SAYS(fault, "the board's setup is NULL");
    ck_assert_ptr_null(glanz_board_of(NULL, &fault));
    SAYS(fault, "setup.hardware is NULL");
    ck_assert_ptr_null(glanz_board_of(NULL, NULL));
    static uint8_t flash[4 * 4096];
    static uint64_t store[600];
    struct glanz_nor nor;
    memset(flash, 0xFF, sizeof flash);
    glanz_nor_begin(&nor, flash, 4096, 4, 4);
    struct glanz_medium medium = nor.medium;
    ck_assert_int_eq(glanz_store_explain(&medium, store, sizeof store, 4, 600, &fault), GLANZ_OK);
    ck_assert_int_eq(glanz_store_explain(NULL, store, sizeof store, 4, 600, &fault), GLANZ_ERR_ARGUMENT);
    SAYS(fault, "the medium is NULL");
#define WRONG(change, text)                                                                                                    \
    do {                                                                                                                       \
        struct glanz_store *none;                                                                                              \
        medium = nor.medium;                                                                                                   \
        change;                                                                                                                \
        ck_assert_int_eq(glanz_store_start(&none, store, sizeof store, &medium, 4, 600), GLANZ_ERR_ARGUMENT);                  \
        ck_assert_int_eq(glanz_store_explain(&medium, store, sizeof store, 4, 600, &fault), GLANZ_ERR_ARGUMENT);               \
        SAYS(fault, text);                                                                                                     \
    } while (0)
    WRONG(medium.version = 9, "medium.version is 9; expected 1");
    WRONG(medium.read = NULL, "medium.read is NULL");
    WRONG(medium.program = NULL, "medium.program is NULL");
    WRONG(medium.erase = NULL, "medium.erase is NULL");
    WRONG(medium.sectors = 1, "medium.sectors is 1; expected 2 and up");
    WRONG(medium.sector_bytes = 1000, "medium.sector_bytes is 1000; expected");
    WRONG(medium.unit = 3, "medium.unit is 3; expected");
    medium = nor.medium;
    ck_assert_int_eq(glanz_store_explain(&medium, NULL, sizeof store, 4, 600, &fault), GLANZ_ERR_ARGUMENT);
    SAYS(fault, "the store's memory is NULL");
    ck_assert_int_eq(glanz_store_explain(&medium, (uint8_t *)store + 1, sizeof store, 4, 600, &fault), GLANZ_ERR_ARGUMENT);
    SAYS(fault, "not aligned");
    ck_assert_int_eq(glanz_store_explain(&medium, store, 8, 4, 600, &fault), GLANZ_ERR_MEMORY);
    ck_assert_uint_eq(fault.needed, glanz_store_size(&medium, 4, 600));
    ck_assert_int_eq(glanz_store_explain(&medium, store, 8, 4, 600, NULL), GLANZ_ERR_MEMORY);
}
END_TEST

/* ---- a sending's time ---- */

START_TEST(sending_lasts_as_long_as_the_wire) {
    static const uint32_t begins[] = {0, 1000, 0xFFFFFF00u, 0xFFFFFFFFu, 0x7FFFFFF0u};
    GLANZ_CONST struct glanz_chip *chip = glanz_chips[_i];
    uint8_t byte = 0;
    for (uint32_t leds = 1; leds < 33000; leds = leds * 3 + 1) {
        GLANZ_CONST struct glanz_stretch stretch = {.chip = chip, .leds = (uint16_t)leds};
        GLANZ_CONST struct glanz_output output = {.stretches = &stretch, .stretch_count = 1};
        struct glanz_sending sending = {&output, &byte, 1};
        uint32_t wire_us = glanz_output_wire_us(&output); /* with the reset time */
        for (size_t b = 0; b < sizeof begins / sizeof begins[0]; b++) {
            struct glanz_sending_timer timer = {0};
            uint32_t ended = 0;
            ck_assert_int_eq(glanz_sending_runs(&timer, begins[b]), 0); /* nothing was sent */
            glanz_sending_begin(&timer, &sending, 1, begins[b]);
            for (uint32_t us = 0; us < wire_us * 2 + 1000 && ended == 0; us += 7) {
                ended = glanz_sending_runs(&timer, begins[b] + us) ? 0 : us + 1;
            }
            ck_assert_msg(ended > wire_us && ended < wire_us + wire_us / 40 + 30, "%s, %u LEDs: %u us, the wire takes %u",
                          chip->name, (unsigned)leds, (unsigned)ended, (unsigned)wire_us);
            for (uint64_t later = 0; later < 0x300000000ull; later += 0x3FFFFFFu) { /* and stays ended, through three wraps */
                ck_assert_int_eq(glanz_sending_runs(&timer, begins[b] + ended + (uint32_t)later), 0);
            }
            glanz_sending_begin(&timer, &sending, 1, begins[b]); /* the hardware tells the end: the rest is the reset time */
            glanz_sending_end(&timer, begins[b] + 5);
            ck_assert_int_eq(glanz_sending_runs(&timer, begins[b] + 5), 1);
            ck_assert_int_eq(glanz_sending_runs(&timer, begins[b] + 5 + chip->reset_us + 1u), 0);
            glanz_sending_end(&timer, begins[b] + 50); /* once more: nothing begins by it */
            ck_assert_int_eq(glanz_sending_runs(&timer, begins[b] + 51), 0);
        }
    }
    glanz_sending_begin(NULL, NULL, 0, 0);
    glanz_sending_end(NULL, 0);
    ck_assert_int_eq(glanz_sending_runs(NULL, 0), 0);
}
END_TEST

/* ---- advice ---- */

static char printed[20000];

static int check_documents(const char *rig, const char *show) {
    char folder[] = "/tmp/glanz-first-XXXXXX";
    char line[600];
    ck_assert_ptr_nonnull(mkdtemp(folder));
    for (int i = 0; i < 2; i++) {
        snprintf(line, sizeof line, "%s/%s.json", folder, i == 0 ? "rig" : "show");
        FILE *file = fopen(line, "w");
        for (const char *c = i == 0 ? rig : show; *c != '\0'; c++) {
            putc(*c == '\'' ? '"' : *c, file);
        }
        fclose(file);
    }
    snprintf(line, sizeof line, "%s check %s/rig.json %s/show.json --json 2>&1; rm -r %s", GLANZ_TOOL_PATH, folder, folder,
             folder);
    FILE *pipe = popen(line, "r");
    printed[fread(printed, 1, sizeof printed - 1, pipe)] = '\0';
    return pclose(pipe);
}

#define RIG(supply, line, surface)                                                                                             \
    "{'rig':'r','frames':'100 per s','supplies':{'p':{'volts':'5 V'" supply                                                    \
    "}},'outputs':{'o':{'pin':4,'supply':'p','line':[" line "]}},'surfaces':{" surface "}}"
#define STRIP_60 RIG(",'limit':'2 A'", "{'chip':'WS2812B','leds':60}", "'s':{'strip':[{'output':'o','first':0,'leds':60}]}")

static const struct {
    const char *rig, *show, *kind, *where;
} advised[] = {
    {RIG("", "{'chip':'WS2812B','leds':60}", "'s':{'strip':[{'output':'o','first':0,'leds':60}]}"),
     "{'show':'s','looks':{'a':{'effect':'plain'}},'segments':{'x':{'surface':'s','look':'a'}}}", "too hot", "/supplies/p"},
    {RIG(",'limit':'2 A'", "{'chip':'WS2812B','leds':500}", "'s':{'strip':[{'output':'o','first':0,'leds':500}]}"),
     "{'show':'s','looks':{'a':{'effect':'plain'}},'segments':{'x':{'surface':'s','look':'a'}}}", "too slow", "/outputs/o"},
    {RIG(",'limit':'2 A'", "{'chip':'WS2811','leds':50}", "'s':{'strip':[{'output':'o','first':0,'leds':50}]}"),
     "{'show':'s','looks':{'a':{'effect':'plain'}},'segments':{'x':{'surface':'s','look':'a'}}}", "too dark", "/outputs/o"},
    {RIG(",'limit':'2 A'", "{'chip':'WS2812B','leds':60}", "'s':{'strip':[{'output':'o','first':0,'leds':50}]}"),
     "{'show':'s','looks':{'a':{'effect':'plain'}},'segments':{'x':{'surface':'s','look':'a'}}}", "never seen", "/outputs/o"},
    {STRIP_60,
     "{'show':'s','brightness':'1 "
     "%','looks':{'a':{'effect':'plain'}},'segments':{'x':{'surface':'s','look':'a','brightness':'20 %'}}}",
     "too dark", "/segments/x"},
    {STRIP_60,
     "{'show':'s','looks':{'a':{'effect':'plain'},'b~/c':{'effect':'comet'}},'segments':{'x':{'surface':'s','look':'a'}}}",
     "never seen", "/looks/b~0~1c"},
    {STRIP_60,
     "{'show':'s','looks':{'a':{'effect':'plain'}},'segments':{'x':{'surface':'s','look':'a'},'y':{'surface':'s','look':'a'}},'"
     "stack':['x','y']}",
     "never seen", "/segments/x"},
    {STRIP_60, "{'show':'s','looks':{'a':{'effect':'plain'}},'segments':{'x':{'surface':'s','look':'a','leds':30}}}",
     "never seen", "/segments/"},
    {STRIP_60, "{'show':'s','looks':{'a':{'effect':'columns'}},'segments':{'x':{'surface':'s','look':'a'}}}", "never seen",
     "/looks/a"},
};

START_TEST(advice_has_kind_and_place) {
    char text[80];
    ck_assert_msg(check_documents(advised[_i].rig, advised[_i].show) == 0, "%s", printed);
    snprintf(text, sizeof text, "\"kind\": \"%s\"", advised[_i].kind);
    ck_assert_msg(strstr(printed, text) != NULL, "expected %s in\n%s", text, printed);
    snprintf(text, sizeof text, "\"where\": \"%s\"", advised[_i].where);
    ck_assert_msg(strstr(printed, text) != NULL, "expected %s in\n%s", text, printed);
}
END_TEST

START_TEST(nothing_wrong_no_advice) {
    ck_assert_int_eq(
        check_documents(
            STRIP_60,
            "{'show':'s','looks':{'a':{'effect':'plain'},'b':{'effect':'comet'}},'segments':{'x':{'surface':'s','look':'a'}},"
            "'presets':{'p':{'x':'b'}}}"),
        0);
    ck_assert_msg(strstr(printed, "\"advice\": []") != NULL, "%s", printed);
}
END_TEST

/* ---- frames over a serial line ---- */

static struct { /* what a board's port was given */
    uint8_t bytes[2][1000];
    size_t count[2];
    unsigned frames;
    int busy;
} lit;

static glanz_status light_up(void *user, const struct glanz_sending *list, uint8_t count) {
    (void)user;
    for (uint8_t i = 0; i < count; i++) {
        memcpy(lit.bytes[i], list[i].bytes, list[i].count);
        lit.count[i] = list[i].count;
    }
    lit.frames++;
    return GLANZ_OK;
}

static int still_busy(void *user) {
    (void)user;
    return lit.busy;
}

#define TWO_LINES                                                                                                              \
    "{'rig':'r','supplies':{'p':{'volts':'5 V'}},'outputs':{'a':{'pin':4,'supply':'p','line':[{'chip':'WS2812B','leds':20}]}," \
    "'b':{'pin':5,'supply':'p','line':[{'chip':'SK6812-RGBW','leds':11}]}},"                                                   \
    "'surfaces':{'s':{'strip':[{'output':'a','first':0,'leds':20},{'output':'b','first':0,'leds':11}]}}}"

/* A frame of two packets, of drawn bytes. */
static size_t make_frame(uint8_t *out, uint8_t bytes[2][100], uint32_t seed) {
    size_t size = 0;
    for (uint8_t o = 0; o < 2; o++) {
        for (size_t i = 0; i < 100; i++) {
            seed = glanz_hash(seed);
            bytes[o][i] = seed % 5 == 0 ? 0x47 : seed % 5 == 1 ? 0x4C : (uint8_t)seed; /* marks within, too */
        }
        size += glanz_serial_pack(out + size, o, o == 1, bytes[o], o == 0 ? 60 : 44);
    }
    return size;
}

static int is_lit(uint8_t bytes[2][100]) {
    return lit.count[0] == 60 && lit.count[1] == 44 && memcmp(lit.bytes[0], bytes[0], 60) == 0 &&
           memcmp(lit.bytes[1], bytes[1], 44) == 0;
}

START_TEST(serial_frames_come_whole) {
    static struct stage stage;
    static const struct glanz_port port = {.version = 2, .start = light_up, .busy = still_busy};
    static uint8_t room[400], packets[400], more[400];
    uint8_t bytes[2][100];
    uint8_t other[2][100];
    struct glanz_serial serial;
    stage_must_open(&stage, TWO_LINES,
                    "{'show':'s','looks':{'a':{'effect':'plain'}},'segments':{'x':{'surface':'s','look':'a'}}}");
    ck_assert_uint_eq(glanz_serial_size(stage.rig), 2 * (60 + 44));
    ck_assert_uint_eq(glanz_serial_size(NULL), 0);
    ck_assert_int_eq(glanz_serial_begin(&serial, stage.rig, &port, room, 207), GLANZ_ERR_MEMORY);
    ck_assert_int_eq(glanz_serial_begin(NULL, stage.rig, &port, room, sizeof room), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_serial_begin(&serial, NULL, &port, room, sizeof room), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_serial_begin(&serial, stage.rig, NULL, room, sizeof room), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_serial_begin(&serial, stage.rig, &port, NULL, sizeof room), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_serial_begin(&serial, stage.rig, &port, room, sizeof room), GLANZ_OK);
    ck_assert_uint_eq(glanz_serial_take(NULL, packets, 1) + glanz_serial_take(&serial, NULL, 1), 0);
    ck_assert_uint_eq(glanz_serial_pack(NULL, 0, 1, packets, 1) + glanz_serial_pack(more, 0, 1, packets, 65536), 0);
    memset(&lit, 0, sizeof lit);
    /* in pieces of every size */
    size_t size = make_frame(packets, bytes, 1);
    for (size_t piece = 1; piece <= size; piece++) {
        unsigned before = lit.frames;
        for (size_t at = 0; at < size; at += piece) {
            (void)glanz_serial_take(&serial, packets + at, at + piece < size ? piece : size - at);
        }
        ck_assert_uint_eq(lit.frames, before + 1);
        ck_assert(is_lit(bytes));
    }
    ck_assert_uint_eq(serial.damaged + serial.dropped, 0);
    /* any bit flipped, any byte lost: what is shown was sent whole, and the second frame after it comes in any case */
    size_t next = make_frame(more, other, 2);
    for (size_t bit = 0; bit < size * 9; bit++) {
        uint8_t broken[400];
        memcpy(broken, packets, size);
        size_t count = size;
        if (bit < size * 8) {
            broken[bit / 8] ^= (uint8_t)(1u << (bit % 8));
        } else {
            memmove(&broken[bit - size * 8], &broken[bit - size * 8 + 1], size - 1 - (bit - size * 8));
            count--;
        }
        memset(&lit, 0, sizeof lit);
        ck_assert_int_eq(glanz_serial_begin(&serial, stage.rig, &port, room, sizeof room), GLANZ_OK);
        (void)glanz_serial_take(&serial, broken, count);
        for (int i = 0; i < 3; i++) {
            (void)glanz_serial_take(&serial, more, next);
        }
        ck_assert_msg(is_lit(other), "bit %zu", bit);
        ck_assert_msg(serial.damaged != 0 || lit.frames >= 3, "bit %zu: nobody was told", bit);
    }
    /* a port that is busy: the newest waits, what it overtakes is counted; the bytes on their way are not touched */
    memset(&lit, 0, sizeof lit);
    ck_assert_int_eq(glanz_serial_begin(&serial, stage.rig, &port, room, sizeof room), GLANZ_OK);
    lit.busy = 1;
    (void)glanz_serial_take(&serial, packets, size);
    (void)glanz_serial_take(&serial, more, next);
    ck_assert_uint_eq(lit.frames, 0);
    ck_assert_uint_eq(serial.dropped, 1);
    lit.busy = 0;
    ck_assert_uint_eq(glanz_serial_take(&serial, NULL, 0), 1);
    ck_assert(is_lit(other));
    stage_close(&stage);
}
END_TEST

/* The tool on one end of a line, a board's program on the other. */
START_TEST(tool_lights_real_leds) {
    static struct stage stage;
    static const struct glanz_port port = {.version = 2, .start = light_up, .busy = still_busy};
    static uint8_t room[400];
    uint8_t bytes[500];
    char line[300], name[100], folder[] = "/tmp/glanz-serial-XXXXXX";
    struct glanz_serial serial;
    int there, here;
    ck_assert_ptr_nonnull(mkdtemp(folder));
    ck_assert_int_eq(openpty(&there, &here, name, NULL, NULL), 0);
    stage_must_open(&stage, TWO_LINES,
                    "{'show':'s','looks':{'a':{'effect':'plain'}},'segments':{'x':{'surface':'s','look':'a'}}}");
    ck_assert_int_eq(glanz_serial_begin(&serial, stage.rig, &port, room, sizeof room), GLANZ_OK);
    memset(&lit, 0, sizeof lit);
    snprintf(line, sizeof line, "%s/rig.json", folder);
    FILE *file = fopen(line, "w");
    for (const char *c = TWO_LINES; *c != '\0'; c++) {
        putc(*c == '\'' ? '"' : *c, file);
    }
    fclose(file);
    snprintf(line, sizeof line,
             "%s prove %s/rig.json --colors blue --brightness 100 --pace 100ms --serial %s@1000000 > /dev/null 2>&1",
             GLANZ_TOOL_PATH, folder, name);
    pid_t child = fork();
    if (child == 0) {
        _exit(system(line) == 0 ? 0 : 1);
    }
    close(here);
    for (ssize_t count; (count = read(there, bytes, sizeof bytes)) > 0;) { /* until the tool closes its end */
        (void)glanz_serial_take(&serial, bytes, (size_t)count);
    }
    int status = -1;
    waitpid(child, &status, 0);
    ck_assert_int_eq(status, 0);
    ck_assert_uint_gt(lit.frames,
                      50); /* a second and more, by the real clock, at 100 frames a second; still ones are not sent */
    ck_assert_uint_eq(serial.damaged + serial.dropped, 0);
    for (int i = 0; i < 20; i++) { /* blue, fully on: green, red, blue on the wire */
        ck_assert(lit.bytes[0][i * 3] == 0 && lit.bytes[0][i * 3 + 1] == 0 && lit.bytes[0][i * 3 + 2] == 255);
    }
    close(there);
    snprintf(line, sizeof line, "rm -r %s", folder);
    ck_assert_int_eq(system(line), 0);
    stage_close(&stage);
}
END_TEST

/* ---- LEDs of two makes ---- */

/* Whatever the ratios, up to three to one: after six questions at the most, asked of an eye that sees 2 %, the lights are
 * within 3 %. */
START_TEST(makes_are_matched_in_six_questions) {
    uint32_t random = test_seed(11);
    for (int draw = 0; draw < 3000; draw++) {
        double truth[2][3];
        struct glanz_match match;
        uint16_t gain[2][3];
        glanz_match_begin(&match);
        for (int c = 0; c < 3; c++) {
            random = glanz_hash(random);
            double ratio = draw < 3 ? (draw == 0 ? 1 : draw == 1 ? 2.95 : 1 / 2.95) : 1.0 + (random % 10000) / 5130.0;
            truth[0][c] = (random & 65536u) != 0 ? 1 : ratio;
            truth[1][c] = (random & 65536u) != 0 ? ratio : 1;
        }
        while (!glanz_match_done(&match)) {
            uint8_t seen[3];
            glanz_match_gains(&match, gain[0], gain[1]);
            for (int c = 0; c < 3; c++) {
                double apart = gain[1][c] * truth[1][c] / (gain[0][c] * truth[0][c]);
                seen[c] = apart > 1.02 ? GLANZ_MATCH_BRIGHTER : apart < 1 / 1.02 ? GLANZ_MATCH_DIMMER : GLANZ_MATCH_ALIKE;
            }
            ck_assert_int_eq(glanz_match_answer(&match, seen), GLANZ_OK);
        }
        ck_assert_uint_le(match.asked, GLANZ_MATCH_QUESTIONS);
        glanz_match_gains(&match, gain[0], gain[1]);
        for (int c = 0; c < 3; c++) {
            double apart = gain[1][c] * truth[1][c] / (gain[0][c] * truth[0][c]);
            ck_assert_msg(apart < 1.03 && apart > 1 / 1.03, "draw %d: %f after ratio %f", draw, apart,
                          truth[1][c] / truth[0][c]);
            ck_assert(gain[0][c] == 65535 || gain[1][c] == 65535 || (gain[0][c] > 65000 && gain[1][c] > 65000));
        }
        ck_assert_int_eq(glanz_match_answer(&match, (const uint8_t[]){1, 1, 1}), GLANZ_ERR_STATE);
    }
    struct glanz_match match;
    glanz_match_begin(&match);
    ck_assert_int_eq(glanz_match_answer(&match, (const uint8_t[]){0, 3, 0}), GLANZ_ERR_ARGUMENT);
    ck_assert_uint_eq(match.asked, 0);
    ck_assert_int_eq(glanz_match_answer(&match, NULL), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_match_answer(NULL, (const uint8_t[]){0, 0, 0}), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_match_done(NULL), 1);
    glanz_match_begin(NULL);
    glanz_match_gains(NULL, NULL, NULL);
}
END_TEST

Suite *first_suite(void) {
    Suite *suite = suite_create("first");
    TCase *tests = tcase_create("first");
    tcase_set_timeout(tests, 120);
    tcase_add_test(tests, start_says_which_member);
    tcase_add_loop_test(tests, message_tells_arguments_that_do, 0, 9);
    tcase_add_test(tests, one_strip_counts_its_memory);
    tcase_add_test(tests, board_and_store_say_why);
    tcase_add_loop_test(tests, sending_lasts_as_long_as_the_wire, 0, 7);
    tcase_add_loop_test(tests, advice_has_kind_and_place, 0, (int)(sizeof advised / sizeof advised[0]));
    tcase_add_test(tests, nothing_wrong_no_advice);
    tcase_add_test(tests, serial_frames_come_whole);
    tcase_add_test(tests, tool_lights_real_leds);
    tcase_add_test(tests, makes_are_matched_in_six_questions);
    suite_add_tcase(suite, tests);
    return suite;
}
