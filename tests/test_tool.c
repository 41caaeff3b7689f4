/* SPDX-License-Identifier: MIT */
/* The simulated board and the command line, driven as a user does: what chips misread, what commands print and with which
 * exit code, recordings that play back alike. */
#include <check.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/stat.h>
#include <sys/wait.h>
#include <unistd.h>

#include <glanz/linux.h>

#include "stage.h"
#include "suites.h"

/* ---- the board ---- */

#define DEMO "demo/rig.json demo/show.json "

static struct stage rigs; /* only its rig and show are used */

static void setup(void) {
    ck_assert_int_eq(chdir(GLANZ_SOURCE), 0);
}

static void teardown(void) {
    stage_close(&rigs);
}

static const char board_rig[] =
    "{'rig':'t','supplies':{'s':{'volts':'5 "
    "V'}},'outputs':{'o':{'pin':1,'supply':'s','line':[{'chip':'WS2812B','leds':20,'order':'BRG'}]},"
    "'p':{'pin':2,'supply':'s','line':[{'chip':'SK6812-RGBW','leds':9}]},'q':{'pin':3,'clock "
    "pin':4,'supply':'s','line':[{'chip':'APA102','leds':33}]}},"
    "'surfaces':{'a':{'strip':[{'output':'o','first':0,'leds':20},{'output':'p','first':0,'leds':9},{'output':'q','first':0,'"
    "leds':33}]}}}";
static const char board_show[] = "{'show':'t','looks':{'l':{'effect':'motley','palette':'net floats','speed':'300 "
                                 "ms/pass'}},'segments':{'s':{'surface':'a','look':'l'}}}";

struct heard { /* bytes as they were handed over */
    uint8_t bytes[3][200];
    unsigned frames, latched;
};

static void sent(void *user, const struct glanz_sending *list, uint8_t count) {
    struct heard *heard = (struct heard *)user;
    for (uint8_t i = 0; i < count; i++) {
        memcpy(heard->bytes[i], list[i].bytes, list[i].count);
    }
    heard->frames++;
}

static void latched(void *user, uint8_t output, uint64_t time_us) {
    (void)output;
    (void)time_us;
    ((struct heard *)user)->latched++;
}

/* Run a board for some frames. @return the board, open. */
static struct glanz_board *run_board(struct glanz_board_setup *setup_of, struct heard *heard, int frames, uint64_t frame_us) {
    static uint64_t memory[8192];
    memset(heard, 0, sizeof *heard);
    ck_assert_int_eq(stage_open(&rigs, board_rig, board_show), GLANZ_OK);
    setup_of->hardware = rigs.rig;
    setup_of->sent = sent;
    setup_of->latched = latched;
    setup_of->user = heard;
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    struct glanz_board *board = glanz_board_open(setup_of, &fault);
    if (board == NULL) {
        return NULL;
    }
    struct glanz_setup start = {
        .rig = rigs.rig, .show = rigs.show, .port = glanz_board_port(board), .parts = &glanz_everything};
    struct glanz_device *device = NULL;
    ck_assert_int_eq(glanz_device_start(&device, memory, sizeof memory, &start, &fault), GLANZ_OK);
    for (int i = 0; i < frames; i++) {
        glanz_board_time(board, (uint64_t)i * frame_us);
        glanz_device_frame(device, (uint32_t)((uint64_t)i * frame_us));
    }
    glanz_board_finish(board);
    return board;
}

static unsigned wrongs(const struct glanz_board *board, uint8_t output) {
    struct glanz_misread misread = glanz_board_misread(board, output);
    return misread.pulses + misread.resets + misread.missing + misread.extra;
}

/* In every form that fits, the chips latch just the bytes that were sent. */
START_TEST(chips_read_what_was_sent) {
    for (int form = GLANZ_FORM_RAW; form <= GLANZ_FORM_UART5; form++) {
        struct glanz_board_setup board_setup = {.form = (enum glanz_form)form};
        struct heard heard;
        struct glanz_board *board = run_board(&board_setup, &heard, 150, 10000);
        if (form == GLANZ_FORM_SPI3 || form == GLANZ_FORM_UART3) {
            ck_assert_ptr_null(board); /* 3 slots cannot keep the times of an SK6812, and it is said */
            stage_close(&rigs);
            continue;
        }
        ck_assert_uint_eq(heard.frames, 150);
        ck_assert_uint_eq(heard.latched, 450);
        for (uint16_t i = 0; i < 20; i++) {
            struct glanz_lit lit = glanz_board_lit(board, 0, i);
            ck_assert(lit.blue == heard.bytes[0][i * 3] && lit.red == heard.bytes[0][i * 3 + 1] &&
                      lit.green == heard.bytes[0][i * 3 + 2]);
        }
        for (uint16_t i = 0; i < 9; i++) {
            struct glanz_lit lit = glanz_board_lit(board, 1, i);
            ck_assert(lit.green == heard.bytes[1][i * 4] && lit.red == heard.bytes[1][i * 4 + 1] &&
                      lit.blue == heard.bytes[1][i * 4 + 2] && lit.white == 0);
        }
        for (uint16_t i = 0; i < 33; i++) {
            struct glanz_lit lit = glanz_board_lit(board, 2, i);
            ck_assert(lit.field == (heard.bytes[2][4 + i * 4] & 31) && lit.blue == heard.bytes[2][5 + i * 4] &&
                      lit.red == heard.bytes[2][7 + i * 4]);
        }
        ck_assert_uint_eq(wrongs(board, 0) + wrongs(board, 1) + wrongs(board, 2), 0);
        glanz_board_close(board);
        stage_close(&rigs);
    }
}
END_TEST

/* Waves that the chips have read before need not be drawn again: they see the same in them as in a wave whose every edge is
 * made, whatever is wrong with it, and when the clock drifts while they run. */
static void send_drawn(struct glanz_board *board, uint32_t *random, uint64_t *now_us) {
    const struct glanz_port *port = glanz_board_port(board);
    uint8_t bytes[3][172];
    struct glanz_sending list[3];
    for (uint8_t o = 0; o < 3; o++) {
        const struct glanz_output *output = &rigs.rig->outputs[o];
        size_t count = (size_t)output->stretches[0].chip->led_bytes * glanz_output_leds(output) + (o == 2 ? 8u : 0u);
        for (size_t i = 0; i < count; i++) {
            *random = glanz_hash(*random);
            bytes[o][i] = (uint8_t)(*random % 4 == 0 ? 0 : *random >> 8);
            if (o == 2 && (i < 4 || i % 4 == 0)) {
                bytes[o][i] = i < 4 ? 0 : 0xE0 | (bytes[o][i] & 31u);
            }
        }
        list[o].output = output;
        list[o].bytes = bytes[o];
        list[o].count = (uint16_t)count;
    }
    *now_us += 10000;
    glanz_board_time(board, *now_us);
    ck_assert_int_eq(port->start(port->user, list, 3), GLANZ_OK);
}

START_TEST(waves_seen_before_read_the_same) {
    static const int skews[] = {-45, -20, -12, 0, 9, 13, 17, 24, 45};
    for (int form = GLANZ_FORM_RAW; form <= GLANZ_FORM_UART5; form++) {
        for (size_t s = 0; s < sizeof skews / sizeof skews[0]; s++) {
            struct heard heard[2];
            struct glanz_board *boards[2];
            FILE *edges = fopen("/dev/null", "w");
            ck_assert_int_eq(stage_open(&rigs, board_rig, board_show), GLANZ_OK);
            for (int drawn = 0; drawn < 2; drawn++) {
                struct glanz_board_setup of = {
                    .form = (enum glanz_form)form, .vcd = drawn ? edges : NULL, .drop_byte = s == 3 ? 7 : 0};
                memset(&heard[drawn], 0, sizeof heard[drawn]);
                of.hardware = rigs.rig;
                of.latched = latched;
                of.user = &heard[drawn];
                boards[drawn] = glanz_board_open(&of, NULL);
                uint32_t random = 77;
                uint64_t now_us = 0;
                for (int frame = 0; boards[drawn] != NULL && frame < 30; frame++) {
                    if (frame % 10 == 0) { /* true, off, true again */
                        glanz_board_skew(boards[drawn], frame == 10 ? skews[s] : 0);
                    }
                    send_drawn(boards[drawn], &random, &now_us);
                    if (frame == 9 && s != 3) {
                        ck_assert_uint_eq(wrongs(boards[drawn], 0) + wrongs(boards[drawn], 1) + wrongs(boards[drawn], 2), 0);
                    }
                }
                glanz_board_finish(boards[drawn]);
            }
            ck_assert((boards[0] == NULL) == (boards[1] == NULL));
            for (uint8_t o = 0; boards[0] != NULL && o < 3; o++) {
                struct glanz_misread one = glanz_board_misread(boards[0], o), other = glanz_board_misread(boards[1], o);
                ck_assert_uint_eq(one.pulses, other.pulses);
                ck_assert_uint_eq(one.resets, other.resets);
                ck_assert_uint_eq(one.missing, other.missing);
                ck_assert_uint_eq(one.extra, other.extra);
                ck_assert_str_eq(one.first, other.first);
                ck_assert(skews[s] != 45 || o == 2 || one.pulses > 1000); /* a clock that is far off is misread */
                for (uint16_t i = 0; i < glanz_output_leds(&rigs.rig->outputs[o]); i++) {
                    struct glanz_lit a = glanz_board_lit(boards[0], o, i), b = glanz_board_lit(boards[1], o, i);
                    ck_assert_mem_eq(&a, &b, sizeof a);
                }
            }
            ck_assert_uint_eq(heard[0].latched, heard[1].latched);
            glanz_board_close(boards[0]);
            glanz_board_close(boards[1]);
            stage_close(&rigs);
            fclose(edges);
        }
    }
}
END_TEST

START_TEST(chips_tell_what_is_wrong) {
    struct heard heard;
    struct glanz_board_setup slow = {.skew_percent = 45};
    struct glanz_board *board = run_board(&slow, &heard, 20, 10000);
    ck_assert_uint_gt(glanz_board_misread(board, 0).pulses, 100);
    ck_assert(strstr(glanz_board_misread(board, 0).first, "ns; expected the data sheet's") != NULL);
    glanz_board_close(board);
    stage_close(&rigs);
    struct glanz_board_setup dropped = {.drop_byte = 5};
    board = run_board(&dropped, &heard, 20, 10000);
    ck_assert_uint_eq(glanz_board_misread(board, 0).missing, 20);
    ck_assert(strstr(glanz_board_misread(board, 0).first, "ended at LED 19 of 20") != NULL);
    ck_assert_uint_eq(glanz_board_lit(board, 0, 19).red, 0); /* it keeps what it showed: nothing */
    glanz_board_close(board);
    stage_close(&rigs);
    struct glanz_board_setup good = {0};
    board = run_board(&good, &heard, 1, 10000);
    /* two frames with a short pause: some chips latch, some do not */
    const struct glanz_port *port = glanz_board_port(board);
    uint8_t bytes[60] = {0};
    struct glanz_sending one = {&rigs.rig->outputs[0], bytes, 60};
    glanz_board_time(board, 50000);
    ck_assert_int_eq(port->start(port->user, &one, 1), GLANZ_OK);
    ck_assert(port->busy(port->user));
    glanz_board_time(board, 50000 + 20 * 30 + 120);
    ck_assert_int_eq(port->start(port->user, &one, 1), GLANZ_OK);
    glanz_board_time(board, 60000);
    ck_assert(!port->busy(port->user));
    ck_assert_uint_eq(glanz_board_misread(board, 0).resets, 1);
    ck_assert_uint_eq(glanz_board_misread(board, 0).extra, 1);
    glanz_board_close(board);
    glanz_board_close(NULL);
    ck_assert_ptr_null(glanz_board_open(NULL, NULL));
    ck_assert_uint_eq(glanz_board_lit(NULL, 0, 0).red, 0);
}
END_TEST

START_TEST(switch_bounces_and_settles) {
    uint32_t times[16];
    uint8_t levels[16];
    unsigned bounced = 0;
    for (uint32_t seed = 0; seed < 100; seed++) {
        uint8_t count = glanz_bounce(times, levels, 16, 5000, seed & 1, seed);
        ck_assert(count >= 1 && count % 2 == 1 && times[0] == 5000);
        for (uint8_t i = 0; i < count; i++) {
            ck_assert_uint_eq(levels[i], i % 2 == 0 ? (seed & 1) : !(seed & 1));
            ck_assert(i == 0 || times[i] > times[i - 1]);
        }
        ck_assert(times[count - 1] < 5000 + 20000);
        bounced += count > 1;
    }
    ck_assert(bounced > 50);
    ck_assert_uint_eq(glanz_bounce(NULL, levels, 16, 0, 0, 0), 0);
}
END_TEST

/* ---- the command line ---- */

static char printed[200000];

/* Run the tool through the shell. @return its exit code; what it printed (errors too) is in `printed`. */
static int tool(const char *arguments) {
    char line[1024];
    snprintf(line, sizeof line, "%s %s 2>&1", GLANZ_TOOL_PATH, arguments);
    FILE *pipe = popen(line, "r");
    size_t count = fread(printed, 1, sizeof printed - 1, pipe);
    printed[count] = '\0';
    int status = pclose(pipe);
    return WIFEXITED(status) ? WEXITSTATUS(status) : -1;
}

static int says(const char *text) {
    return strstr(printed, text) != NULL;
}

struct call {
    const char *arguments;
    int code;
    const char *says;
};

static const struct call calls[] = {
    {"", 2, "Usage: glanz COMMAND"},
    {"--help", 0, "Exit codes: 0 done"},
    {"--version", 0, "glanz " GLANZ_VERSION},
    {"chek", 2, "no such command: chek"},
    {"check --help", 0, "Example:"},
    {"play --help", 0, "--record"},
    {"wire --help", 0, "--vcd"},
    {"check", 2, "expected RIG [SHOW]"},
    {"check --nope demo/rig.json", 2, "check: no such option: --nope"},
    {"check --jsn demo/rig.json", 2, "did you mean \"--json\"?"},
    {"sheet --o x " DEMO, 2, "--o could be several options"},
    {"chek demo/rig.json", 2, "no such command: chek; did you mean \"check\"?"},
    {"list effects commet", 1, "did you mean \"comet\"?"},
    {"-V", 0, "glanz " GLANZ_VERSION},
    {"current demo/rig.json --js", 0, "\"limit_ma\": 2400"},
    {"calendar " DEMO "--from 2026-07-13 --json --week", 2, "--json goes with the list only"},
    {"manual --completion tcsh", 2, "expected bash, zsh or fish"},
    {"check nowhere.json", 3, "cannot open nowhere.json"},
    {"check " DEMO, 0, "segment \"lamps\": LEDs 0 to 131 of \"jetty rail\""},
    {"check demo/rig.json", 0,
     "the longest line takes 12.30 ms of the 13.33 ms between frames; divided evenly over the 4 outputs it would be 4.82 ms"},
    {"check " DEMO, 0, "look \"compass\": bearing follows \"brass dial\" from 0 deg to 360 deg"},
    {"check demo/show.json", 1, "demo/show.json:2:4: unknown key"},
    {"check " DEMO "--patch demo/blue.patch.json", 0, "19 looks"},
    {"write " DEMO "--patch demo/blue.patch.json", 0, "\"amber\": \"#2060ff\""},
    {"write demo/rig.json", 0, "\"chip\": \"SK6812-RGBW\""},
    {"list effects", 0, "breathing"},
    {"list effects comet", 0, "0.01 leds to 30000 leds; default 12 leds"},
    {"list effects nothing", 1, "no such effect: nothing"},
    {"list palettes", 0, "oil film"},
    {"list chips", 0, "SPI or UART with 3 slots a bit of 412 ns"},
    {"palette demo/waves.gif --colors 4 --as css", 0,
     "linear-gradient(to right in oklab, #000a1a 0%, #003a5c 33.333%, #147896 66.667%, #dcf0ec 100%)"},
    {"palette demo/waves.gif --colors 2 --as gpl", 0, "GIMP Palette"},
    {"palette demo/waves.gif --colors 65", 2, "--colors: expected 1 to 64"},
    {"palette kelp --colors 3", 2, "--colors: expected a picture"},
    {"tour demo/rig.json --each soon", 2, "\"soon\" is no time"},
    {"tour demo/rig.json -o demo/show.json", 2, "demo/show.json is there already; expected another name"},
    {"play --watch demo/x.so " DEMO, 2, "--watch: expected a C file"},
    {"sheet " DEMO "--beside demo/show.json --sound - --at 1s", 2, "expected a file"},
    {"tour nowhere.json", 3, "cannot open nowhere.json"},
    {"tour demo/show.json", 1, "demo/show.json:2:4: unknown key"},
    {"tour demo/rig.json --plain -o /tmp/glanz-none.json < /dev/null", 0, "nothing was liked; no show was written"},
    {"tour demo/rig.json --plain --sound demo/rig.json < /dev/null", 3, "demo/rig.json"},
    {"list nothing", 2, "expected one of: effects, palettes, chips"},
    {"play " DEMO "--for 7s --inputs demo/visitor.jsonl", 0, "6.350 s  trigger \"a visitor presses\""},
    {"play " DEMO "--for soon", 2, "\"soon\" is no time"},
    {"play " DEMO "--inputs demo/rig.json", 1, "demo/rig.json:1:2: expected a key"},
    {"sheet " DEMO "--at 3s,1s -o /tmp/x.png", 2, "expected times in order"},
    {"sheet " DEMO "--at 1s -o /nowhere/x.png", 3, "cannot write /nowhere/x.png"},
    {"sheet " DEMO "--gif", 2, "--gif goes with --over"},
    {"sheet " DEMO "--gif --over 2min", 2, "at most a minute"},
    {"sheet " DEMO "--over 2s --beside demo/show.json", 2, "go with --at or --gif"},
    {"sheet " DEMO "--diffuser 3", 2, "such as \"1.5 leds\""},
    {"sheet " DEMO "--distance 5", 2, "\"5\" is no length"},
    {"sheet " DEMO "--pitch 5mm", 2, "--pitch goes with --distance"},
    {"sheet " DEMO "--distance '90 km'", 2, "is no length"},
    {"sheet " DEMO "--beside demo/rig.json --at 1s -o /tmp/x.png", 1, "demo/rig.json:2:4: unknown key"},
    {"sheet " DEMO "--gif --over 1s -o /nowhere/x.gif", 3, "cannot write /nowhere/x.gif"},
    {"sheet " DEMO "--at 1s --over 1s", 2, "either --at or --over"},
    {"wire " DEMO "--for 100ms", 0, "7 frames made, 7 sent"},
    {"wire " DEMO "--form spi3", 1, "cannot keep the times of \"SK6812-RGBW\""},
    {"wire " DEMO "--form spi5", 2, "expected one of: raw, spi3"},
    {"wire " DEMO "--form uart4 --for 300ms", 0, "22 frames made"},
    {"wire " DEMO "--for 20ms --colors -", 0, "wheel line: 00000000"},
    {"wire " DEMO "--rate 5000", 2, "1 to 1000"},
    {"prove demo/rig.json --pace 100ms --output \"rail line\"", 0, "rail line: sent blue, seen blue on LEDs 0 to 131"},
    {"prove demo/rig.json --pace 50ms --leds 3-5 --colors \"#ff0000\"", 0,
     "wheel line: sent #ff0000, seen dark on LEDs 0 to 2, red on LEDs 3 to 5, dark on LEDs 6 to 23"},
    {"prove demo/rig.json --walk --pace 20ms --output \"wheel line\"", 0, "wheel line: LED 23 is white"},
    {"prove demo/rig.json --seen green,red,blue", 0, "\"order\": \"RGB\""},
    {"prove demo/rig.json --seen green,green,blue", 1, "each once"},
    {"prove demo/rig.json --output \"wheel line\" --seen red,green,white,blue", 0, "\"order\": \"GRWB\""},
    {"prove demo/rig.json --output \"wheel line\" --seen red,green,blue", 2, "expected four colours"},
    {"prove demo/rig.json --stretch 2 --seen blue,green,red", 0, "\"order\": \"BGR\""},
    {"prove demo/rig.json --stretch 2 --colors red --pace 50ms", 0, "seen dark on LEDs 0 to 71, red on LEDs 72 to 131"},
    {"prove demo/rig.json --stretch 3", 2, "expected 1 to 2"},
    {"prove demo/rig.json --stretch 1 --walk", 2, "expected one of --walk, --leds, --stretch"},
    {"match demo/rig.json --first \"rail line/1\" --second \"rail line/3\"", 2, "expected an output of the rig"},
    {"match demo/rig.json --first \"rail line/1\" --second \"rail line/2\" < /dev/null", 1, "no answer any more"},
    {"find demo/rig.json --output \"board line\" --size 40x10 < /dev/null", 1, "no answer any more"},
    {"prove demo/rig.json --seen green", 2, "expected three colours"},
    {"prove demo/rig.json --leds 9-3", 2, "expected LEDs and ranges"},
    {"prove demo/rig.json --colors mauve", 2, "expected red, green"},
    {"prove demo/rig.json --output none", 1, "no such output"},
    {"signals " DEMO "--inputs demo/visitor.jsonl --for 3s --every 1s", 0,
     "drives bearing of look \"compass\" from 0 deg to 360 deg"},
    {"signals " DEMO "--inputs demo/visitor.jsonl --for 3s --every 1s", 0, "product of \"wind\" and \"swell\""},
    {"signals " DEMO "--every 0s", 2, "expected at least 1 ms"},
    {"signals demo/rig.json", 2, "expected RIG SHOW"},
    {"current demo/rig.json", 0, "limited to 2400 mA: buy 3.0 A or more"},
    {"current " DEMO "--for 2s", 0, "a limit held the light back in 0 of 150 frames"},
    {"current demo/rig.json --plot x.png", 2, "need a show"},
    {"sheet " DEMO "--from 1s", 2, "--from goes with --over"},
    {"prove demo/rig.json --walk --leds 3", 2, "expected one of --walk, --leds, --stretch"},
    {"prove demo/rig.json --seen red,green,blue --walk", 2, "--seen only takes --output"},
    {"list effects --color", 2, "--color goes with palettes"},
    {"check demo/rig.json --patch demo/blue.patch.json", 2, "expected a show to patch"},
    {"schema nothing", 2, "expected rig, show or log"},
    {"forecast " DEMO, 0, "on the wire: 12.30 ms, while the next frame is shaded"},
    {"forecast " DEMO "--cpu rv32imc --clock 160MHz --cycles 1", 0, "forecast for RV32IMC at 160 MHz"},
    {"forecast " DEMO "--clock 1", 0, "warning: 75 frames a second will not be reached"},
    {"forecast " DEMO "--cpu Z80", 2, "expected Cortex-M0+, Cortex-M4 or RV32IMC"},
    {"forecast " DEMO "--clock fast", 2, "expected a clock such as \"48 MHz\""},
    {"forecast " DEMO "--cycles none", 2, "expected a number of 0.1 to 100"},
    {"forecast demo/rig.json", 2, "expected RIG SHOW"},
    {"source " DEMO, 0, "GLANZ_CONST struct glanz_show my_show = {.name = GLANZ_TEXT(\"an evening on the jetty\")"},
    {"source " DEMO "--name museum", 0, "museum_led_bytes = 14274,"},
    {"source " DEMO "--name 7", 2, "expected small letters, digits and underscores"},
    {"source " DEMO "--inputs demo/visitor.jsonl", 1, "demo/visitor.jsonl:1: C source takes raw edges and values only"},
    {"source " DEMO "-o nowhere/at/all.c", 3, "nowhere/at/all.c: No such file"},
    {"wiring demo/rig.json --surface \"painted anchor\"", 0, " .  .  .  .  .  . 13  .  .  .  .  .  .\n"},
    {"wiring demo/rig.json --surface \"tide board\"", 0, "\n  0   1   2   3   4"},
    {"wiring demo/rig.json --surface \"tide board\" --back", 0, "\n 39  38  37  36"},
    {"wiring demo/rig.json --surface \"tide board\" --turned 90", 0, "400 LEDs, 10 x 40"},
    {"wiring demo/rig.json --csv", 0, "\"painted anchor\",13,\"anchor line\",13,6,0,\"\",0"},
    {"wiring demo/rig.json demo/show.json --segment anchor", 0,
     "segment \"anchor\" on \"painted anchor\": flow sees a line of 8\n"},
    {"wiring demo/rig.json demo/show.json --segment board", 0, "clouds sees 40 columns and 10 rows\n 0,0  1,0  2,0"},
    {"wiring demo/rig.json demo/show.json --segment lamps", 0, "breathing sees a line of 132\n"},
    {"wiring demo/rig.json demo/show.json --segment none", 1, "no such segment"},
    {"wiring demo/rig.json --segment board", 2, "--segment needs a show"},
    {"wiring demo/rig.json demo/show.json --csv", 2, "with a show only"},
    {"wiring demo/rig.json --surface none", 1, "no such surface in demo/rig.json"},
    {"wiring demo/rig.json --turned 45", 2, "expected 90, 180 or 270"},
    {"wiring demo/rig.json --table --csv", 2, "one of --table, --csv and --json"},
    {"wiring demo/rig.json -o /nowhere/x.png", 3, "cannot write /nowhere/x.png"},
    {"wiring demo/show.json", 1, "unknown key"},
    {"font fonts/buoy.bdf --text \"Fj\"", 0, "######....##..\n"},
    {"font fonts/quay.bdf --text \"a{\"", 1, "byte 2 of the text"},
    {"font demo/rig.json", 1, "demo/rig.json:1:1: expected STARTFONT"},
    {"font fonts/quay.bdf --name Quay", 2, "expected a name of small letters"},
    {"font none.bdf", 3, "none.bdf: No such file"},
    {"picture demo/boat.png -o -", 0, "{ \"pictures\": { \"boat\": { \"data\": \"R0kB"},
    {"picture demo/waves.gif", 0, "40 x 10, 4 colours"},
    {"picture demo/waves.gif --size 10x5", 0, "\"waves\": 10 x 3"},
    {"picture demo/rig.json", 1, "neither a PNG nor a GIF"},
    {"picture demo/boat.png --size 300x1", 2, "expected a size such as 20x12"},
    {"picture demo/boat.png --rig demo/rig.json", 2, "--rig, --surface and --for go together"},
    {"picture demo/boat.png --rig demo/rig.json --surface none", 1, "no such surface"},
    {"picture demo/boat.png --name 'a\"b'", 2, "expected a name of 1 to 31 bytes"},
    {"find demo/rig.json --size 8", 2, "expected two numbers such as 8x8"},
    {"find demo/rig.json --size 8x8 --panels 3x3", 2, "eight at the most"},
    {"find demo/rig.json --size 50x10 --output \"board line\"", 1, "the panels have 500 LEDs"},
    {"find demo/rig.json --size 4x4 --output none", 1, "no such output"},
    {"list effects fire", 0, "for fields of 3 x 6 LEDs and more"},
    {"calendar " DEMO "--from 2026-07-18", 0, "19:00:00  festival week         rail, lamps, wheel, board, board text, anchor"},
    {"calendar " DEMO "--from 2026-10-24 --days 2 --segment rail --offsets", 0, "2026-10-25 Sun  09:00:00+01:00  -"},
    {"calendar " DEMO "--from 2026-07-13 --week --segment rail", 0, "|:21 rail lights   |:20 rail lights"},
    {"calendar " DEMO "--from 2026-10-25 --sun", 0, "the clock is set from +120 to +60 min"},
    {"calendar " DEMO "--from 2026-02-29", 2, "expected a day such as"},
    {"calendar " DEMO "--week --days 3", 2, "--week has seven days"},
    {"calendar " DEMO "--picture none/x.png --days 5", 2, "28 to 731"},
    {"calendar " DEMO "--from 2026-01-01 --picture none/x.png", 3, "cannot write none/x.png"},
    {"calendar " DEMO "--segment none", 1, "no such segment in demo/show.json: \"none\""},
    {"calendar demo/tiny.rig.json demo/tiny.show.json", 1, "demo/tiny.show.json has no calendar"},
    {"store demo/rig.json", 1, "no sector of a store in"},
    {"store none", 3, "cannot open none"},
    {"calendar " DEMO "--week --offsets", 2, "--offsets goes with the list only"},
    {"calendar " DEMO "--sun --segment rail", 2, "expected no --segment with --sun"},
    {"calendar " DEMO "--sun --week", 2, "expected one of --picture, --week, --sun"},
    {"store demo/rig.json --sectors 4", 2, "go with --pack"},
    {"store /tmp/glanz-none --pack demo --sectors 0", 2, "expected --sectors 2 to 65535"},
    {"store a --verify --repair", 2, "expected one of"},
    {"store /tmp/glanz-none --pack demo --unit 3", 2, "no store has"},
    {"store /tmp/glanz-none --pack demo", 1, "no record; expected names such as 0x1000.record"},
    {"wire " DEMO "--inputs tests/refused/february.jsonl", 1, "february.jsonl:2:25: expected a date and time that there is"},
    {"wire " DEMO "--inputs tests/refused/backwards.jsonl", 1, "backwards.jsonl:2:9: this is before the line above"},
    {"wire " DEMO "--inputs tests/refused/no-unit.jsonl", 1, "no-unit.jsonl:1:9: expected a time such as"},
    {"check tests/refused/low-limit.rig.json", 1, "the dark LEDs alone draw 60 mA, and the limit is 50 mA"},
    {"check tests/refused/tight-limit.rig.json", 0, "leaves 2.0 mA above the 60 mA"},
    {"schema log", 0, "Glanz input log"},
    {"wire " DEMO "--for 50ms --supplies -", 0, "jetty supply: demanded "},
    {"wire " DEMO "--for 50ms --light -", 0, "rail line: 0.0000,"},
    {"wire " DEMO "--for 0x10ms", 2, "\"0x10ms\" is no time"},
    {"sheet " DEMO "--at 1s --single-frames -o /tmp/glanz-single.png", 0, ""},
    {"list effects text", 0, "buoy (6 rows), quay (8 rows), tower (16 rows)"},
};

START_TEST(command_does_what_it_says) {
    int code = tool(calls[_i].arguments);
    ck_assert_msg(code == calls[_i].code, "glanz %s: exit %d\n%.600s", calls[_i].arguments, code, printed);
    ck_assert_msg(says(calls[_i].says), "glanz %s:\n%.1500s", calls[_i].arguments, printed);
}
END_TEST

static void folder_of(char *folder) {
    strcpy(folder, "/tmp/glanz-test-XXXXXX");
    ck_assert_ptr_nonnull(mkdtemp(folder));
}

static void run(const char *format, const char *a, const char *b, int code) {
    char line[900];
    snprintf(line, sizeof line, format, a, b);
    int got = tool(line);
    ck_assert_msg(got == code, "glanz %s: exit %d\n%.600s", line, got, printed);
}

static void shell(const char *format, const char *a) {
    char line[900];
    snprintf(line, sizeof line, format, a);
    ck_assert_msg(system(line) == 0, "%s", line);
}

/* A run with everything that can come from outside, and what was recorded of it: the same bytes, the same flash, the same
 * recording. */
START_TEST(recording_plays_back_alike) {
    static const char *const logs[] = {"demo/visitor.jsonl", "demo/evening.jsonl", "tests/replay/all-inputs.jsonl"};
    for (int i = 0; i < 3; i++) {
        char folder[64];
        char arguments[600];
        folder_of(folder);
        for (int pass = 0; pass < 2; pass++) {
            snprintf(arguments, sizeof arguments,
                     "wire " DEMO "--for 25s --store %s/store%d --inputs %s%s --record %s/recorded%d --bytes %s/bytes%d",
                     folder, pass, pass == 0 ? logs[i] : folder, pass == 0 ? "" : "/recorded0", folder, pass, folder, pass);
            int code = tool(arguments);
            ck_assert_msg(code == 0, "%s: exit %d\n%s", arguments, code, printed);
        }
        shell("cmp %1$s/bytes0 %1$s/bytes1 && cmp %1$s/store0 %1$s/store1 && cmp %1$s/recorded0 %1$s/recorded1", folder);
        shell("test $(grep -c '\"level\"' %1$s/recorded0) -gt 4 || grep -q 'power cut' %1$s/recorded0", folder);
        shell("rm -r %1$s", folder);
    }
}
END_TEST

/* A rig with a wall of eight outputs, and a show of marbles on it. */
static void write_wall(const char *folder, int leds_each) {
    char path[100];
    snprintf(path, sizeof path, "%s/rig", folder);
    FILE *rig = fopen(path, "w");
    snprintf(path, sizeof path, "%s/show", folder);
    FILE *show = fopen(path, "w");
    ck_assert(rig != NULL && show != NULL);
    fprintf(rig, "{\"rig\":\"r\",\"supplies\":{\"s\":{\"volts\":\"5 V\"}},\"outputs\":{");
    for (int i = 0; i < 8; i++) {
        fprintf(rig, "%s\"o%d\":{\"pin\":%d,\"supply\":\"s\",\"line\":[{\"chip\":\"WS2812B\",\"leds\":%d}]}", i == 0 ? "" : ",",
                i, i + 1, leds_each);
    }
    fprintf(rig, "},\"surfaces\":{\"wall\":{\"strip\":[");
    for (int i = 0; i < 8; i++) {
        fprintf(rig, "%s{\"output\":\"o%d\",\"first\":0,\"leds\":%d}", i == 0 ? "" : ",", i, leds_each);
    }
    fprintf(rig, "]}}}");
    fprintf(show, "{\"show\":\"s\",\"looks\":{\"l\":{\"effect\":\"marbles\"}},"
                  "\"segments\":{\"wall\":{\"surface\":\"wall\",\"look\":\"l\"}}}");
    ck_assert_int_eq(fclose(rig) | fclose(show), 0);
}

/* A field so large that an effect cannot remember it is told of; one that it just can is not. */
START_TEST(check_tells_what_is_too_large_to_remember) {
    for (int large = 0; large < 2; large++) {
        char folder[64];
        folder_of(folder);
        write_wall(folder, large ? 1400 : 1355);
        run("check %s/rig %s/show", folder, folder, 0);
        ck_assert_msg(says("too many for \"marbles\" (look \"l\") to remember") == large, "%s", printed);
        shell("rm -r %1$s", folder);
    }
}
END_TEST

/* After the power was cut the device has the show of its firmware again: what a patch brought is gone, but what was saved from
 * it is as it was. */
START_TEST(patches_are_gone_after_a_power_cut) {
    char folder[64];
    folder_of(folder);
    shell("printf '{\"at\":\"1 s\",\"patch\":{\"looks\":{\"quiet\":{\"color\":\"#0000ff\"}}}}\\n"
          "{\"at\":\"2 s\",\"do\":{\"look\":\"quiet\",\"segment\":\"rail\",\"over\":\"0 s\"}}\\n{\"at\":\"4 s\",\"power "
          "cut\":\"1 s\"}\\n"
          "{\"at\":\"7 s\",\"do\":{\"look\":\"quiet\",\"segment\":\"rail\",\"over\":\"0 s\"}}\\n' > %s/log",
          folder);
    run("wire " DEMO "--for 3.5s --from 3.4s --inputs %s/log --light %s/patched", folder, folder, 0);
    run("wire " DEMO "--for 9s --from 8.9s --inputs %s/log --light %s/after", folder, folder, 0);
    /* the rail's first LED: red share of its light */
    shell("test $(awk '/rail line/{split($4, c, \",\"); print int(c[1])}' %1$s/patched | tail -1) = 0", folder);
    shell("test $(awk '/rail line/{split($4, c, \",\"); print int(c[1] * 100)}' %1$s/after | tail -1) -gt 0", folder);
    shell("rm -r %1$s", folder);
}
END_TEST

/* Each frame that repeats the last is listed as such; what is drawn is never more than what is allowed. */
START_TEST(wire_tells_of_repeats_and_supplies) {
    char folder[64];
    folder_of(folder);
    shell("printf '{\"show\":\"s\",\"looks\":{\"l\":{\"effect\":\"plain\",\"color\":\"#ffffff\"}},\"brightness\":\"100 "
          "%%%%\",\"segments\":"
          "{\"rail\":{\"surface\":\"jetty rail\",\"look\":\"l\"}}}' > %s/show",
          folder);
    run("wire demo/rig.json %s/show --for 5s --bytes %s/bytes", folder, folder, 0);
    run("wire demo/rig.json %s/show --for 2s --supplies %s/supplies", folder, folder, 0);
    shell("test $(grep -c 'jetty supply: demanded 7[0-9]*.[0-9] mA, allowed 2400 mA, drawn 2[34][0-9][0-9].[0-9] mA' "
          "%1$s/supplies) -gt 50",
          folder);
    shell("! awk '/jetty/{split($0, a, \"drawn \"); if (a[2] + 0 > 2400) print}' %1$s/supplies | grep .", folder);
    shell("rm -r %1$s", folder);
}
END_TEST

/* What a show kept, through all that the tool does with images of flash. */
START_TEST(images_of_a_store) {
    char folder[64];
    char path[200];
    folder_of(folder);
    shell("printf '{\"at\":\"2 s\",\"save\":\"my evening\"}\\n{\"at\":\"4 s\",\"save\":\"blau und gr\xc3\xbcn\"}\\n"
          "{\"at\":\"5 s\",\"power cut\":\"1 s\"}\\n{\"at\":\"8 s\",\"forget\":\"my evening\"}\\n{\"at\":\"9 "
          "s\",\"recall\":\"blau und "
          "gr\xc3\xbcn\"}\\n' > %s/log",
          folder);
    run("play " DEMO "--for 20s --inputs %s/log --store %s/store", folder, folder, 0);
    ck_assert(says("the power is cut") && says("the power is back"));
    run("store %s/store%s", folder, "", 0);
    ck_assert(says("preset \"blau und gr\xc3\xbcn\"") && says("what was showing") && says("early resets: 0") &&
              says("all of it checks"));
    ck_assert(!says("my evening"));
    run("store %s/store --unpack %s/records", folder, folder, 0);
    run("store %s/flash --pack %s/records --sectors 3 --sector-bytes 2048 --unit 8", folder, folder, 0);
    run("store %s/store --compare %s/flash", folder, folder, 0);
    ck_assert(says("the same"));
    run("store %s/flash --pack %s/records", folder, folder, 2); /* it is there already */
    ck_assert(says("--replace"));
    shell("rm %1$s/records/0x0101.record && printf abc > %1$s/records/0x1000.record", folder);
    run("store %s/flash --pack %s/records --replace", folder, folder, 0);
    run("store %s/store --compare %s/flash", folder, folder, 4);
    ck_assert(says("only in") && says("0x1000"));
    shell("head -c 9000 /dev/urandom > %s/records/0x1001.record", folder);
    run("store %s/small --pack %s/records --sectors 2 --sector-bytes 4096", folder, folder, 1);
    ck_assert(says("too small for it"));
    snprintf(path, sizeof path, "%s/small", folder);
    ck_assert_int_ne(access(path, F_OK), 0); /* nothing half-made */
    /* a bit of a record turns: it is told, the others are saved */
    shell("python3 -c \"d = bytearray(open('%1$s/flash', 'rb').read()); i = d.find(b'abc'); d[i] = 0; open('%1$s/flash', "
          "'wb').write(d)\"",
          folder);
    run("store %s/flash --verify%s", folder, "", 4);
    ck_assert(says("torn or damaged"));
    run("store %s/flash --repair%s", folder, "", 0);
    run("store %s/flash --verify%s", folder, "", 0);
    run("store %s/flash%s", folder, "", 0);
    ck_assert(says("what was showing") && !says("of the program"));
    shell("rm -r %s", folder);
}
END_TEST

/* A part of a preset, another name for it, its place in the order; and a device that is reset again and again. */
START_TEST(parts_names_and_early_resets) {
    char folder[64];
    folder_of(folder);
    FILE *log = fopen(strcat(strcpy((char[80]){0}, folder), "/log"), "w");
    ck_assert_ptr_nonnull(log);
    fputs("{\"at\":\"1 s\",\"do\":{\"look\":\"tar fire\",\"segment\":\"anchor\"}}\n"
          "{\"at\":\"3 s\",\"save\":\"part\",\"segments\":[\"anchor\"],\"aspects\":[\"look\"]}\n"
          "{\"at\":\"4 s\",\"copy\":\"part\",\"as\":\"again\"}\n{\"at\":\"5 s\",\"rename\":\"again\",\"as\":\"ours\"}\n"
          "{\"at\":\"6 s\",\"move\":\"ours\",\"place\":1}\n{\"at\":\"7 "
          "s\",\"do\":{\"look\":\"compass\",\"segment\":\"anchor\"}}\n"
          "{\"at\":\"8 s\",\"recall\":\"ours\"}\n{\"at\":\"9 s\",\"save\":\"part\"}\n"
          "{\"at\":\"10 s\",\"power cut\":\"500 ms\"}\n{\"at\":\"13 s\",\"power cut\":\"500 ms\"}\n{\"at\":\"16 s\",\"power "
          "cut\":\"500 "
          "ms\"}\n{\"at\":\"19 s\",\"power cut\":\"500 ms\"}\n",
          log);
    fclose(log);
    run("play " DEMO "--for 22s --inputs %s/log --store %s/store", folder, folder, 1);
    ck_assert(says("there is a preset of that name already; \"replace\": true writes over it"));
    ck_assert(says("names a preset \"ours\"") && says("moves preset \"ours\"") && says("recalled preset \"ours\""));
    ck_assert(says("could not save preset \"part\"")); /* it is there already, and nothing said to replace it */
    ck_assert(says("reset again and again soon after its start"));
    run("store %s/store%s", folder, "", 0);
    ck_assert(says("preset \"part\"") && says("preset \"ours\"") && !says("\"again\""));
    shell("rm -r %s", folder);
}
END_TEST

START_TEST(a_year_as_a_picture) {
    char folder[64];
    folder_of(folder);
    run("calendar " DEMO "--from 2026-01-01 --picture %s/%s", folder, "year.png", 0);
    shell("test $(head -c 4 %1$s/year.png | tail -c 3) = PNG && test $(wc -c < %1$s/year.png) -gt 20000 && rm -r %1$s", folder);
}
END_TEST

/* A name with quotes in it comes out of a recording as it went in. */
START_TEST(recording_quotes_names) {
    char folder[64];
    folder_of(folder);
    shell("sed 's/visitor button/the \\\\\"big\\\\\" one/' demo/rig.json > %s/rig.json", folder);
    shell("sed 's/visitor button/the \\\\\"big\\\\\" one/' demo/show.json > %s/show.json", folder);
    shell("printf '{\"at\":\"1 s\",\"press\":\"the \\\\\"big\\\\\" one\",\"for\":\"90 ms\"}\\n' > %s/log", folder);
    run("wire %1$s/rig.json %1$s/show.json --for 2s --inputs %1$s/log --record %1$s/again%2$s", folder, "", 0);
    run("play %1$s/rig.json %1$s/show.json --for 2s --inputs %1$s/again%2$s", folder, "", 0);
    ck_assert_msg(says("the \"big\" one: pressed once"), "%s", printed);
    shell("rm -r %s", folder);
}
END_TEST

START_TEST(presets_survive_in_a_folder) {
    char folder[64];
    folder_of(folder);
    shell("printf '{\"at\":\"2 s\",\"save\":\"mine\"}\\n' > %s/save; ", folder);
    shell("printf '{\"at\":\"8 s\",\"recall\":\"mine\"}\\n' > %s/recall", folder);
    run("wire " DEMO "--for 3s --store %s/store --inputs %s/save", folder, folder, 0);
    run("play " DEMO "--for 9s --store %s/store --inputs %s/recall", folder, folder, 0);
    ck_assert(says("recalled preset \"mine\""));
    run("play " DEMO "--for 3s --store %s/store --inputs %s/save", folder, folder, 1); /* not overwritten unasked */
    ck_assert(says("there is a preset of that name already"));
    run("play " DEMO "--for 9s --store %s/empty --inputs %s/recall", folder, folder, 1);
    shell("rm -r %s", folder);
}
END_TEST

START_TEST(rig_on_trial_goes_back) {
    char folder[64];
    folder_of(folder);
    shell("sed 's/\"GRB\"/\"RGB\"/' demo/rig.json > %s/other.json", folder);
    shell("printf '{\"at\":\"1 s\",\"try rig\":\"%1$s/other.json\",\"for\":\"2 s\"}\\n{\"at\":\"9 s\",\"keep rig\":true}\\n' > "
          "%1$s/try",
          folder);
    run("play " DEMO "--for 5s --inputs %s/try%s", folder, "", 0);
    ck_assert(says("rig on trial") && says("3.000 s: the rig on trial was not confirmed"));
    shell("sed -i 's/\"9 s\"/\"2 s\"/' %s/try", folder);
    run("play " DEMO "--for 5s --inputs %s/try%s", folder, "", 0);
    ck_assert(says("the rig is kept") && !says("not confirmed"));
    shell("sed -i 's/other.json/nothing.json/' %s/try", folder);
    run("play " DEMO "--for 5s --inputs %s/try%s", folder, "", 1);
    shell("rm -r %s", folder);
}
END_TEST

/* Hardware that is wired otherwise than the rig says: what is seen leads to the right order. */
START_TEST(colour_order_is_found) {
    static const char *const orders[] = {"RGB", "RBG", "GRB", "GBR", "BRG", "BGR"};
    char folder[64];
    folder_of(folder);
    for (int i = 0; i < 6; i++) {
        char line[600];
        char seen[3][16];
        snprintf(line, sizeof line,
                 "sed '0,/\"GRB\"/s//\"%s\"/; s/\"order\": \"RGB\"/\"order\": \"%s\"/' demo/rig.json > %s/true.json", orders[i],
                 orders[i], folder);
        ck_assert_int_eq(system(line), 0);
        snprintf(line, sizeof line, "prove demo/rig.json --hardware %s/true.json --output \"rail line\" --leds 0-9 --pace 50ms",
                 folder);
        ck_assert_int_eq(tool(line), 0);
        static const char *const sent_names[] = {"sent red, seen ", "sent green, seen ", "sent blue, seen "};
        for (int c = 0; c < 3; c++) {
            const char *at = strstr(printed, sent_names[c]);
            ck_assert_ptr_nonnull(at);
            ck_assert_int_eq(sscanf(at + strlen(sent_names[c]), "%15[a-z]", seen[c]), 1);
        }
        snprintf(line, sizeof line, "prove demo/rig.json --output \"rail line\" --seen %s,%s,%s", seen[0], seen[1], seen[2]);
        ck_assert_int_eq(tool(line), 0);
        snprintf(line, sizeof line, "\"order\": \"%s\"", orders[i]);
        ck_assert_msg(says(line), "%s: %s", orders[i], printed);
    }
    shell("rm -r %s", folder);
}
END_TEST

/* ---- wiring, finder, fonts, pictures ---- */

START_TEST(wiring_of_a_wrong_rig_is_drawn) { /* panels over each other: told, and drawn with the places marked */
    char folder[64];
    folder_of(folder);
    shell("printf '%%s' '{\"rig\":\"t\",\"supplies\":{\"s\":{\"volts\":\"5 "
          "V\"}},\"outputs\":{\"o\":{\"pin\":1,\"supply\":\"s\",\"line\":[{\"chip\":"
          "\"WS2812B\",\"leds\":18}]}},\"surfaces\":{\"a\":{\"grid\":[{\"output\":\"o\",\"first\":0,\"columns\":3,\"rows\":3},{"
          "\"output\":\"o\","
          "\"first\":9,\"columns\":3,\"rows\":3,\"left\":2}]}}}' > %s/rig.json",
          folder);
    run("wiring %s/rig.json -o %s/w.png", folder, folder, 1);
    ck_assert_msg(says("rig.json:1:") && says("takes places that panel 0 of the list has already"), "%s", printed);
    run("wiring %s/rig.json%s", folder, "", 1);
    ck_assert_msg(says("\n  0   1  !9  10  11\n"), "%s", printed);
    run("wiring demo/rig.json --surface \"painted anchor\" -o %s/w.svg%s", folder, "", 0);
    shell("head -c 8 %1$s/w.png | od -An -tx1 | grep -q '89 50 4e 47' && grep -q '<svg' %1$s/w.svg", folder);
    shell("rm -r %s", folder);
}
END_TEST

START_TEST(finder_is_asked_in_the_terminal) {
    char folder[64];
    folder_of(folder);
    shell("printf '%%s' '{\"rig\":\"t\",\"supplies\":{\"s\":{\"volts\":\"5 "
          "V\"}},\"outputs\":{\"o\":{\"pin\":1,\"supply\":\"s\",\"line\":[{\"chip\":"
          "\"WS2812B\",\"leds\":96}]}},\"surfaces\":{\"a\":{\"grid\":[{\"output\":\"o\",\"first\":0,\"columns\":6,\"rows\":8,"
          "\"left\":8,\"turned\":"
          "\"90 "
          "deg\",\"zigzag\":true},{\"output\":\"o\",\"first\":48,\"columns\":8,\"rows\":6,\"mirrored\":true,\"along\":"
          "\"columns\"}]}}}' > "
          "%s/rig.json",
          folder);
    shell("printf 'green red\\n14\\nperhaps\\n5\\nno\\ngreen red\\n14\\n6\\nyes\\n' > %s/answers", folder);
    run("find %s/rig.json --size 8x6 --panels 2x1 --hangs a < %s/answers", folder, folder, 0);
    ck_assert_msg(says("\"perhaps\" is none of the answers"), "%s", printed);
    ck_assert(says("one of them was wrong. Once more from the start."));
    ck_assert(says("Found with 3 questions and the last look:"));
    ck_assert(says("\"first led\": \"top right\", \"along\": \"columns\", \"zigzag\": true, \"left\": 8, \"top\": 0"));
    ck_assert(says("\"first led\": \"top right\", \"along\": \"columns\", \"left\": 0, \"top\": 0"));
    shell("head -n 2 %1$s/answers > %1$s/few", folder);
    run("find %s/rig.json --size 8x6 --panels 2x1 < %s/few", folder, folder, 1);
    ck_assert(says("no answer any more"));
    shell("rm -r %s", folder);
}
END_TEST

START_TEST(fonts_are_as_their_files) { /* the tables in the library are what the tool makes of the drawings */
    static const char *const names[] = {"buoy", "quay", "tower"};
    for (int i = 0; i < 3; i++) {
        char line[300];
        snprintf(line, sizeof line, GLANZ_TOOL_PATH " font fonts/%s.bdf | cmp - src/paint/font_%s.c", names[i], names[i]);
        ck_assert_msg(system(line) == 0, "%s", line);
    }
}
END_TEST

START_TEST(damaged_files_are_refused) { /* cut anywhere, a byte changed anywhere: a reason or a picture, never anything else */
    static const char *const files[] = {"demo/boat.png", "demo/waves.gif", "fonts/buoy.bdf"};
    char folder[64];
    folder_of(folder);
    for (int i = 0; i < 3; i++) {
        for (int k = 0; k < 12; k++) {
            char line[400];
            snprintf(line, sizeof line, "head -c $(( $(wc -c < %s) * %d / 12 )) %s > %s/cut", files[i], k, files[i], folder);
            ck_assert_int_eq(system(line), 0);
            run(i == 2 ? "font %s/cut --name cut%s" : "picture %s/cut%s", folder, "", 1);
            ck_assert_msg(says("expected"), "%s at %d/12: %s", files[i], k, printed);
        }
    }
    shell("printf 'GIF89a\\377\\377\\377\\377\\000\\000\\000;' > %s/huge.gif", folder);
    run("picture %s/huge.gif%s", folder, "", 1);
    ck_assert_msg(says("too large; expected 1 to 4096 columns and rows"), "%s", printed);
    shell("sed 's/DWIDTH 3 0/DWIDTH 999 0/' fonts/buoy.bdf > %s/wide.bdf", folder);
    run("font %s/wide.bdf%s", folder, "", 1);
    ck_assert_msg(says("wide.bdf:") && says("expected whole numbers here"), "%s", printed);
    shell("rm -r %s", folder);
}
END_TEST

START_TEST(picture_is_on_the_wire_with_one_command) { /* 20 x 12 in their places; kept, and there after a restart; a GIF in its
                                                         own time */
    static const char *const rows[] = {"..........w.........", ".........ww.........", ".........www........",
                                       "........wwww........", "........wwwww.......", ".......wwwwww.......",
                                       ".......wwwwwww......", "..........m.........", "....hhhhhhhhhhhhh...",
                                       ".....hhrrrrrrrhh....", "......hhhhhhhhh.....", "~.~~..~~~..~~.~~..~~"};
    char folder[64];
    folder_of(folder);
    shell("printf '%%s' '{\"rig\":\"t\",\"supplies\":{\"s\":{\"volts\":\"5 "
          "V\"}},\"outputs\":{\"o\":{\"pin\":1,\"supply\":\"s\",\"line\":[{\"chip\":"
          "\"WS2812B\",\"leds\":240}]}},\"surfaces\":{\"a\":{\"grid\":[{\"output\":\"o\",\"first\":0,\"columns\":20,\"rows\":"
          "12,\"first led\":"
          "\"bottom right\",\"along\":\"columns\",\"zigzag\":true}]}}}' > %s/rig.json",
          folder);
    run("picture demo/boat.png --rig %s/rig.json --surface a --for 3s --keep %s/store", folder, folder, 0);
    const char *at = strchr(strstr(printed, " s\n"), '\n') + 1;
    for (int y = 0; y < 12; y++) {
        for (int x = 0; x < 20; x++, at += 7) {
            unsigned red = 0;
            unsigned green = 0;
            unsigned blue = 0;
            ck_assert_int_eq(sscanf(at, "%2x%2x%2x", &red, &green, &blue), 3);
            int right = rows[y][x] == 'w'   ? red > 235 && green > 227 && blue > 199
                        : rows[y][x] == 'r' ? red > 180 && green < 40
                        : rows[y][x] == 'h' ? blue > 85 && red < 45
                        : rows[y][x] == 'm' ? red > 80 && blue < 40
                        : rows[y][x] == '~' ? red == 0 && green > 105 && blue > 145
                                            : red + green + blue == 0;
            ck_assert_msg(right, "column %d row %d: %.6s for %c", x, y, at, rows[y][x]);
        }
    }
    run("picture demo/waves.gif --keep %s/store%s", folder, "", 0);
    shell("printf '%%s' "
          "'{\"show\":\"t\",\"looks\":{\"b\":{\"effect\":\"picture\",\"picture\":\"boat\"},\"w\":{\"effect\":\"picture\","
          "\"picture\":\"waves\"}},"
          "\"segments\":{\"s\":{\"surface\":\"a\",\"look\":\"b\"}},\"presets\":{\"w\":{\"s\":\"w\"}}}' > %s/show.json",
          folder);
    run("play %s/rig.json %s/show.json --for 1s", folder, folder, 1); /* without the store nobody knows it */
    ck_assert_msg(says("no such picture in the show or the store"), "%s", printed);
    char line[400];
    snprintf(line, sizeof line, "play %s/rig.json %s/show.json --for 1s --store %s/store", folder, folder, folder);
    ck_assert_int_eq(tool(line), 0);
    shell("cd %s && at=$(grep -abo boat store | head -n 1 | cut -d : -f 1) && "
          "printf x | dd of=store bs=1 seek=$((at + 20)) conv=notrunc 2> /dev/null",
          folder); /* a byte goes bad */
    ck_assert_int_eq(tool(line), 1);
    ck_assert_msg(says("torn or damaged"), "%s", printed);
    shell("rm -r %s", folder);
}
END_TEST

START_TEST(slow_wire_is_told) {
    char folder[64];
    folder_of(folder);
    shell("sed 's/\"75 per s\"/\"400 per s\"/' demo/rig.json > %s/fast.json", folder);
    run("check %s/fast.json%s", folder, "", 0);
    ck_assert_msg(says("divide the line over 6 outputs of at most 67 LEDs, or ask for 81 frames/s"), "%s", printed);
    shell("sed 's/\"75 per s\"/\"1000 per s\"/; s/WS2812B/WS2811-400/' demo/rig.json > %s/fast.json", folder);
    run("check %s/fast.json%s", folder, "", 0);
    ck_assert(says("WS2811-400 is made for 12 V; supply \"jetty supply\" gives 5 V"));
    shell("rm -r %s", folder);
}
END_TEST

START_TEST(schemas_are_current) {
    shell("%s schema rig | cmp - docs/rig.schema.json", GLANZ_TOOL_PATH);
    shell("%s schema show | cmp - docs/show.schema.json", GLANZ_TOOL_PATH);
    shell("%s schema log | cmp - docs/log.schema.json", GLANZ_TOOL_PATH);
    shell("%s schema rig --page | cmp - docs/rig.md", GLANZ_TOOL_PATH);
    shell("%s schema show --page | cmp - docs/show.md", GLANZ_TOOL_PATH);
}
END_TEST

START_TEST(pictures_are_drawn) {
    char folder[64];
    folder_of(folder);
    run("sheet " DEMO "--at 0s,1s,2.5s -o %s/a.png%s", folder, "", 0);
    run("sheet " DEMO "--from 1s --over 2s -o %s/b.png%s", folder, "", 0);
    run("current " DEMO "--for 1s --plot %s/c.png --data %s/d.txt", folder, folder, 0);
    shell("for f in a b c; do head -c 8 %1$s/$f.png | od -An -tx1 | grep -q '89 50 4e 47 0d 0a 1a 0a' || exit 1; done; test "
          "$(wc -l < %1$s/d.txt) = 75",
          folder);
    /* what gnuplot would carry out, end or mark up stands in the names */
    shell("sed 's#jetty supply\\|brass dial#a`touch %1$s/done`'\"'\"' \\\\\"_{x#' demo/rig.json > %1$s/rig.json; "
          "sed 's#brass dial#a`touch %1$s/done`'\"'\"' \\\\\"_{x#' demo/show.json > %1$s/show.json",
          folder);
    run("current %1$s/rig.json %1$s/show.json --for 1s --plot %2$s/current.png", folder, folder, 0);
    run("signals %1$s/rig.json %1$s/show.json --for 1s --plot %2$s/signals.png", folder, folder, 0);
    shell(
        "for f in current signals; do head -c 8 %1$s/$f.png | od -An -tx1 | grep -q '89 50 4e 47 0d 0a 1a 0a' || exit 1; done; "
        "test ! -e %1$s/done && grep -q 'touch' %1$s/rig.json && grep -q 'touch' %1$s/show.json",
        folder);
    shell("rm -r %s", folder);
}
END_TEST

/* Of each effect a page, and a show that plays; of all an index and two sheets. */
START_TEST(a_gallery_is_drawn) {
    char folder[64];
    folder_of(folder);
    run("gallery helix 'clock face' pattern -o %s/g%s", folder, "", 0);
    shell("for f in helix clock-face pattern strips grids; do head -c 8 %1$s/g/$f.png | od -An -tx1 | grep -q '89 50 4e 47 0d "
          "0a 1a "
          "0a' || exit 1; done; test $(grep -c '<section' %1$s/g/index.html) = 3 && ! test -e %1$s/g/comet.png",
          folder);
    run("check %1$s/g/rig.json %1$s/g/helix.show.json%2$s", folder, "", 0);
    run("check %1$s/g/rig.json %1$s/g/clock-face.show.json%2$s", folder, "", 0);
    run("check %1$s/g/rig.json %1$s/g/pattern.show.json%2$s", folder, "", 0);
    shell("rm -r %s", folder);
}
END_TEST

/* Palettes through all forms and back, drawn by lot: stops anywhere, two at one place, one alone, bands. */
START_TEST(palettes_go_round_all_forms) {
    char folder[64];
    char path[128];
    folder_of(folder);
    for (uint32_t seed = 0; seed < (test_long() ? 1000u : test_slow() ? 10u : 40u); seed++) {
        snprintf(path, sizeof path, "%s/x.json", folder);
        FILE *file = fopen(path, "w");
        uint32_t count = 1 + glanz_hash(seed) % 12;
        uint32_t bands = glanz_hash(seed + 1000) % 3 == 0 && count > 1;
        uint32_t at = bands || count == 1 ? 0 : glanz_hash(seed + 2000) % 3 * 7;
        fprintf(file, "{\"stops\":[");
        for (uint32_t i = 0; i < count; i++) {
            uint32_t color = glanz_hash(seed * 31 + i) & 0xFFFFFF;
            fprintf(file, "%s{\"at\":\"%u.%u %%\",\"color\":\"#%06x\"}", i == 0 ? "" : ",", (unsigned)at,
                    (unsigned)(count == 1 || (bands && i == 0) ? 0 : glanz_hash(color) % 10), (unsigned)color);
            at += glanz_hash(color + 5) % 8 + 1;
        }
        const char *between = bands ? "bands" : seed % 4 == 1 ? "even" : seed % 4 == 2 ? "light" : "codes";
        fprintf(file, "],\"between\":\"%s\"}\n", between);
        ck_assert_int_eq(fclose(file), 0);
        run("palette %s/x.json --as json -o %s/a.json", folder, folder, 0);
        run("palette %s/a.json --as css -o %s/b.css", folder, folder, 0);
        if (between[0] == 'e' || between[0] == 'l') { /* GIMP's forms have no word for it: it comes as near in more stops */
            run("palette %s/b.css --as json -o %s/e.json", folder, folder, 0);
            shell("cmp %1$s/a.json %1$s/e.json", folder);
            run("palette %s/b.css --as ggr -o %s/c.ggr", folder, folder, 0);
            run("palette %s/c.ggr --as css -o %s/c.css", folder, folder, 0);
            shell("! grep 'in ' %1$s/c.css", folder);
            continue;
        }
        run("palette %s/b.css --as ggr -o %s/c.ggr", folder, folder, 0);
        run("palette %s/c.ggr --as gpl -o %s/d.gpl", folder, folder, 0);
        run("palette %s/d.gpl --as json -o %s/e.json", folder, folder, 0);
        shell("cmp %1$s/a.json %1$s/e.json || { cat %1$s/*; exit 1; }", folder);
    }
    shell("rm -r %s", folder);
}
END_TEST

/* What is done to a palette, by what it comes to; and files of others. */
/* Through all effects by keys from a pipe; what was liked is a show that is taken and plays. */
START_TEST(a_tour_becomes_a_show) {
    char folder[100];
    char line[400];
    folder_of(folder);
    snprintf(line, sizeof line,
             "printf 'nnlpplblbbbbblppl nl lq' | %s tour demo/rig.json --plain -o %s/liked.json > %s/said.txt", GLANZ_TOOL_PATH,
             folder, folder);
    ck_assert_int_eq(system(line), 0);
    shell("grep -q '^3 of .*filling' %1$s/said.txt && grep -q 'palette low tide; liked\\|  liked' %1$s/said.txt", folder);
    run("check demo/rig.json %s/liked.json%s", folder, "", 0);
    ck_assert(says("filling, low tide") || says("presets"));
    run("play demo/rig.json %s/liked.json --for 3s%s", folder, "", 0);
    ck_assert(says("2.000 s  jetty rail #") && !says("2.000 s  jetty rail #000000"));
    /* liked twice is liked no more; what brings its own colours is liked once, whatever palette is asked for */
    snprintf(line, sizeof line, "printf 'llbblppplq' | %s tour demo/rig.json --plain -o %s/none.json", GLANZ_TOOL_PATH, folder);
    ck_assert_int_eq(system(line), 0);
    shell("test ! -e %1$s/none.json", folder);
    shell("rm -r %s", folder);
}
END_TEST

START_TEST(palettes_are_changed) {
    static const struct {
        const char *call, *says;
    } changes[] = {
        {"p.css --reverse --as css", "linear-gradient(to right, #0000ff 0%%, #00ff00 50%%, #ff0000 100%%)"},
        {"p.css --cut '25 %% to 75 %%' --as css", "linear-gradient(to right, #808000 0%%, #00ff00 50%%, #008080 100%%)"},
        {"p.css --insert '25 %%' --as css",
         "linear-gradient(to right, #ff0000 0%%, #808000 25%%, #00ff00 50%%, #0000ff 100%%)"},
        {"q.css --even --as css", "linear-gradient(to right, #ff0000 0%%, #00ff00 50%%, #0000ff 100%%)"},
        {"p.css --insert '25 %%' --insert '25 %%' --simplify 3 --as css", "#00ff00 50%%"},
        {"r.gpl --as css", "linear-gradient(to right, #ffb000 0%%, #008f8a 100%%)"},
        {"s.ggr --as css", "linear-gradient(to right, #ff0000 0%%, #800080 25%%, #0000ff 100%%)"},
        {"t.css --as css", "#ff0000 0%%, #800000 37.5%%, #ff00ff 75%%, #ffffff 100%%"},
        {"p.css --simplify 2 --as css", "linear-gradient(to right, #ff0000 0%%, #0000ff 100%%)"},
        {"p.css --rotate '50 %%' --as css", "#00ff00 0%%, #0000ff 50%%, #ff0000 50%%, #00ff00 100%%"},
    };
    char folder[64];
    char call[500];
    folder_of(folder);
    shell("cd %s && echo 'linear-gradient(90deg, red, lime, blue)' > p.css && echo 'x: linear-gradient(#f00 10%%, #0f0 20%%, "
          "#00f 90%%)' > "
          "q.css && printf 'GIMP Palette\nName: two\r\nColumns: 2\n#\n255 176 0 amber\r\n  0 143 138\tteal\n' > r.gpl && "
          "printf 'GIMP "
          "Gradient\nName: g\n1\n0 0.25 1 1 0 0 1 0 0 1 1 0 0 0 0\n' > s.ggr && printf "
          "'linear-gradient(\n  to right, red,\n  maroon, fuchsia 75%%%%, white)' > t.css",
          folder);
    for (size_t i = 0; i < sizeof changes / sizeof changes[0]; i++) {
        snprintf(call, sizeof call, "cd %%1$s && " GLANZ_TOOL_PATH " palette %s 2> /dev/null | grep -qF '%s'", changes[i].call,
                 changes[i].says);
        shell(call, folder);
    }
    run("palette kelp --picture %s/k.png%s", folder, "", 0);
    /* cut off anywhere, a byte another: a palette or a reason with its place, never anything else */
    for (unsigned i = 0; i < 120; i++) {
        snprintf(call, sizeof call,
                 "cd %%1$s && for f in p.css r.gpl s.ggr; do head -c %u $f > x; " GLANZ_TOOL_PATH
                 " palette x > o 2>&1; c=$?; [ $c = 0 ] || { [ "
                 "$c = 1 ] && grep -q '^glanz: x:[0-9]*:[0-9]*: ' o; } || exit 1; done",
                 i);
        shell(call, folder);
    }
    shell("rm -r %s", folder);
}
END_TEST

Suite *tool_suite(void) {
    Suite *suite = suite_create("tool");
    TCase *tcase = tcase_create("Tool");
    tcase_add_checked_fixture(tcase, setup, teardown);
    tcase_set_timeout(tcase, 120);
    tcase_add_test(tcase, chips_read_what_was_sent);
    tcase_add_test(tcase, waves_seen_before_read_the_same);
    tcase_add_test(tcase, chips_tell_what_is_wrong);
    tcase_add_test(tcase, switch_bounces_and_settles);
    tcase_add_loop_test(tcase, command_does_what_it_says, 0, sizeof calls / sizeof calls[0]);
    tcase_add_test(tcase, recording_plays_back_alike);
    tcase_add_test(tcase, recording_quotes_names);
    tcase_add_test(tcase, images_of_a_store);
    tcase_add_test(tcase, a_year_as_a_picture);
    tcase_add_test(tcase, parts_names_and_early_resets);
    tcase_add_test(tcase, presets_survive_in_a_folder);
    tcase_add_test(tcase, rig_on_trial_goes_back);
    tcase_add_test(tcase, colour_order_is_found);
    tcase_add_test(tcase, slow_wire_is_told);
    tcase_add_test(tcase, wiring_of_a_wrong_rig_is_drawn);
    tcase_add_test(tcase, finder_is_asked_in_the_terminal);
    tcase_add_test(tcase, fonts_are_as_their_files);
    tcase_add_test(tcase, damaged_files_are_refused);
    tcase_add_test(tcase, picture_is_on_the_wire_with_one_command);
    tcase_add_test(tcase, check_tells_what_is_too_large_to_remember);
    tcase_add_test(tcase, patches_are_gone_after_a_power_cut);
    tcase_add_test(tcase, wire_tells_of_repeats_and_supplies);
    tcase_add_test(tcase, schemas_are_current);
    tcase_add_test(tcase, pictures_are_drawn);
    tcase_add_test(tcase, a_gallery_is_drawn);
    tcase_add_test(tcase, palettes_go_round_all_forms);
    tcase_add_test(tcase, palettes_are_changed);
    tcase_add_test(tcase, a_tour_becomes_a_show);
    suite_add_tcase(suite, tcase);
    return suite;
}
