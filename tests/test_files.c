/* SPDX-License-Identifier: MIT */
/* What commands write: whole or not at all, nothing before all that comes in is accepted; disks that are full, things that are
 * no files; exit codes as promised; a terminal that is left as it was. */
#include <errno.h>
#include <pty.h>
#include <signal.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/stat.h>
#include <sys/wait.h>
#include <termios.h>
#include <unistd.h>

#include <check.h>

#include "suites.h"

#define DEMO "demo/rig.json demo/show.json "
#define BROKEN "demo/rig.json %1$s/broken.json "

static char printed[20000];
static char folder[64];

/* A line of the shell, with %1$s for the folder. @return its exit code; what it printed (errors too) is in `printed`. */
static int shell(const char *format) {
    char line[1500];
    snprintf(line, sizeof line, "( PATH=%s:$PATH; ", GLANZ_TOOL_FOLDER);
    size_t at = strlen(line);
    snprintf(line + at, sizeof line - at, format, folder);
    strcat(line, " ) 2>&1 < /dev/null");
    FILE *pipe = popen(line, "r");
    size_t count = fread(printed, 1, sizeof printed - 1, pipe);
    printed[count] = '\0';
    int status = pclose(pipe);
    return WIFEXITED(status) ? WEXITSTATUS(status) : 128 + WTERMSIG(status);
}

#define EXPECT(code, line)                                                                                                     \
    do {                                                                                                                       \
        int got = shell(line);                                                                                                 \
        ck_assert_msg(got == (code), "%s: exit %d, expected %d\n%.800s", line, got, code, printed);                            \
    } while (0)
#define SAYS(text) ck_assert_msg(strstr(printed, text) != NULL, "expected \"%s\" in\n%.800s", text, printed)

static void setup(void) {
    strcpy(folder, "/tmp/glanz-files-XXXXXX");
    ck_assert_ptr_nonnull(mkdtemp(folder));
    EXPECT(0, "sed 's/\"effect\": \"flow\"/\"effect\": \"flou\"/' demo/show.json > %1$s/broken.json; echo old > %1$s/out; "
              "mkdir %1$s/records; "
              "printf abc > %1$s/records/0x1000.record");
}

static void teardown(void) {
    shell("rm -rf %1$s");
}

/* Every command that writes a file, with a document that is refused: the file stays, and nothing lies beside it. */
static const char *const writers[] = {
    "glanz wire " BROKEN "--bytes %1$s/out",
    "glanz wire " BROKEN "--colors %1$s/out",
    "glanz wire " BROKEN "--light %1$s/out",
    "glanz wire " BROKEN "--supplies %1$s/out",
    "glanz wire " BROKEN "--vcd %1$s/out",
    "glanz wire " BROKEN "--record %1$s/out",
    "glanz play " BROKEN "--for 1s --record %1$s/out",
    "glanz sheet " BROKEN "-o %1$s/out",
    "glanz sheet " BROKEN "--over 1s -o %1$s/out",
    "glanz current " BROKEN "--for 1s --data %1$s/out",
    "glanz current " BROKEN "--for 1s --plot %1$s/out",
    "glanz calendar " BROKEN "--from 2026-01-01 --picture %1$s/out",
    "glanz source " BROKEN "-o %1$s/out",
};
#define WRITERS (sizeof writers / sizeof writers[0])

START_TEST(what_is_refused_touches_no_file) {
    EXPECT(1, writers[_i]);
    EXPECT(0, "test \"$(cat %1$s/out)\" = old && test $(ls %1$s | wc -l) = 3");
}
END_TEST

/* The same with a good show, and no more than a few KB for a file: it is told, and the old file is there. */
START_TEST(a_full_disk_leaves_the_old_file) {
    char line[900];
    const char *broken = strstr(writers[_i], "%1$s/broken.json");
    int before = (int)(broken - writers[_i]);
    snprintf(line, sizeof line, "trap '' XFSZ; ulimit -f 1; %.*sdemo/show.json%s", before, writers[_i],
             broken + strlen("%1$s/broken.json"));
    int wants_little = strstr(line, "--record") != NULL; /* a few lines, which fit */
    EXPECT(wants_little ? 0 : 3, line);
    if (!wants_little) {
        ck_assert_msg(strstr(printed, "cannot write") != NULL || strstr(printed, "could not draw") != NULL, "%s", printed);
        EXPECT(0, "test \"$(cat %1$s/out)\" = old && test $(ls %1$s | wc -l) = 3");
    }
}
END_TEST

START_TEST(devices_and_pipes_are_written_straight) {
    EXPECT(0, "glanz wire " DEMO "--for 100ms --bytes /dev/null && test -c /dev/null");
    EXPECT(3, "glanz wire " DEMO "--for 2s --bytes /dev/full");
    SAYS("cannot write /dev/full: No space left on device");
    EXPECT(3, "glanz sheet " DEMO "-o /dev/full");
    EXPECT(3, "glanz source " DEMO "> /dev/full");
    EXPECT(3, "glanz list effects > /dev/full");
    EXPECT(0, "mkfifo %1$s/pipe; (glanz source " DEMO
              "-o %1$s/pipe &) ; grep -c museum < %1$s/pipe > %1$s/counted; test -p %1$s/pipe && test -s %1$s/counted");
    EXPECT(0, "glanz store %1$s/image --pack %1$s/records && ln -s image %1$s/link && glanz store %1$s/link --pack "
              "%1$s/records --replace && "
              "test -L %1$s/link && glanz store %1$s/image --verify");
    EXPECT(0, "mkfifo %1$s/device; (cat %1$s/device > %1$s/copy &); glanz store %1$s/device --pack %1$s/records --replace && "
              "test -p %1$s/device; sleep 0.2; cmp %1$s/copy %1$s/image");
    EXPECT(3, "glanz sheet " DEMO "-o %1$s/none/at/all.png");
    EXPECT(3, "chmod 444 %1$s/out; if test -w %1$s/out; then exit 3; fi; glanz sheet " DEMO "-o %1$s/out"); /* root may write */
    EXPECT(0,
           "chmod 640 %1$s/out; glanz sheet " DEMO "--at 100ms -o %1$s/out && test $(stat -c %%a %1$s/out) = 640"); /* kept */
}
END_TEST

START_TEST(a_store_on_a_full_disk_is_told) {
    EXPECT(3, "trap '' XFSZ; ulimit -f 16; glanz play " DEMO "--for 100ms --store %1$s/flash");
    SAYS("cannot open the store");
    EXPECT(0, "test ! -e %1$s/flash");
}
END_TEST

/* Exit codes, as the help promises them: 0 done, 1 refused, 2 the call, 3 a file, 4 something is wrong. */
static const struct {
    int code;
    const char *line, *says;
} codes[] = {
    {0, "glanz check " DEMO, NULL},
    {1, "glanz check " BROKEN, "broken.json:"},
    {1, "glanz check demo/show.json", "demo/show.json:"},
    {1, "printf '{' > %1$s/x; glanz check %1$s/x", "x:1:2: expected a key in quotes"},
    {2, "glanz", "Usage"},
    {2, "glanz chek", "no such command"},
    {2, "glanz check", "expected RIG"},
    {2, "glanz check --nothing " DEMO, "no such option"},
    {2, "glanz wire " DEMO "-r 0", "expected 1 to 1000 frames a second"},
    {2, "glanz wire " DEMO "-r -5", "expected 1 to 1000 frames a second"},
    {2, "glanz wire " DEMO "-r 12x", "invalid numeric value"},
    {2, "glanz wire " DEMO "--for 0x10ms", "--for"},
    {2, "glanz wire " DEMO "--for -1s", "--for"},
    {2, "glanz wire " DEMO "--for 10", "--for"},
    {2, "glanz wire " DEMO "--for nan", "--for"},
    {2, "glanz wire " DEMO "--for 1e9s", "--for"},
    {2, "glanz wire " DEMO "--form spi9", "no such form"},
    {2, "glanz play " DEMO "--speed nan", "--speed"},
    {2, "glanz play " DEMO "--speed 0", "--speed"},
    {2, "glanz current " DEMO "--ohms nan", "--ohms"},
    {2, "glanz current " DEMO "--ohms -1", "--ohms"},
    {2, "glanz palette kelp --cut '70 %% to 20 %%'", "20 % to 70 %"},
    {2, "glanz palette kelp --as xml", "json, css, gpl or ggr"},
    {2, "glanz palette kelp -o %1$s/x", "--as"},
    {2, "glanz palette kelp --simplify 1", "2 to 64"},
    {3, "glanz palette %1$s/none", "cannot open"},
    {1, "printf 'GIMP Palette\n1 2 300\n' > %1$s/x; glanz palette %1$s/x", "x:2:1: expected a colour"},
    {1, "printf 'linear-gradient(red, nosuch)' > %1$s/x; glanz palette %1$s/x", "x:1:22: expected a colour"},
    {1, "echo 'linear-gradient(red, blue 200%%)' > %1$s/x; glanz palette %1$s/x", "x:1:27: expected a place"},
    {1, "echo 'linear-gradient(red -10%%, blue)' > %1$s/x; glanz palette %1$s/x", "x:1:21: expected a place"},
    {1, "echo 'repeating-linear-gradient(red, blue)' > %1$s/x; glanz palette %1$s/x", "x:1:1: expected a gradient that"},
    {1, "printf 'GIMP Palette\n1234 5 6\n' > %1$s/x; glanz palette %1$s/x", "x:2:1: expected a colour"},
    {1, "printf 'GIMP Gradient\n1\n0 0 0.5 0 0 0 1 1 1 1 1 0 0\n' > %1$s/x; glanz palette %1$s/x", "x:3:1: expected the last"},
    {1, "printf 'GIMP Gradient\n1\n0 0 1 nan 0 0 1 1 1 1 1 0 0\n' > %1$s/x; glanz palette %1$s/x", "x:3:1: expected colours"},
    {0,
     "(echo GIMP Palette; seq 4090 | awk '{print $1 %% 256, $1 %% 7, $1 %% 99}') > %1$s/x; glanz palette %1$s/x --simplify 8",
     "8 stops in"},
    {1, "printf '{\"stops\":[]}' > %1$s/x; glanz palette %1$s/x", "x:1:10:"},
    {1, "printf '\\377\\376G' > %1$s/x; glanz palette %1$s/x", "no UTF-8"},
    {1, "(echo GIMP Palette; yes '1 2 3' | head -n 10000) > %1$s/x; glanz palette %1$s/x", "x:4098:1: too many"},
    {2, "glanz gallery spiral -o %1$s/gallery", "no such effect: spiral"},
    {3, "glanz gallery helix -o %1$s/none/gallery", "gallery"},
    {2, "glanz sheet " DEMO "--at 3s,1s", "in order"},
    {2, "glanz sheet " DEMO "--at 1s --over 2s", "either"},
    {2, "glanz forecast " DEMO "--cpu z80", "z80"},
    {2, "glanz forecast " DEMO "--cycles nan", "--cycles"},
    {2, "glanz forecast " DEMO "--cycles 0", "--cycles"},
    {2, "glanz calendar " DEMO "--from 2026-02-30", "2026-02-30"},
    {2, "glanz calendar " DEMO "--from 2026-01-01 --days 0", "--days"},
    {2, "glanz store %1$s/new --pack %1$s/records --sectors 1", "--sectors"},
    {2, "glanz source " DEMO "--name 9lives", "--name"},
    {2, "glanz schema nothing", "nothing"},
    {2, "glanz list nothing", "nothing"},
    {3, "glanz check %1$s/none", "cannot open"},
    {3, "glanz play " DEMO "--for 1s --inputs %1$s/none", "cannot open"},
    {3, "glanz store %1$s/none", "cannot open"},
    {3, "glanz picture %1$s/none.png", "cannot"},
    {3, "glanz font %1$s/none.bdf", "cannot open"},
    {1, "glanz store demo/rig.json", "no sector of a store"},
    {1, "glanz font demo/rig.json", "demo/rig.json"},
    {4,
     "glanz store %1$s/image --pack %1$s/records > /dev/null && printf x | dd of=%1$s/image bs=1 seek=8261 conv=notrunc 2> "
     "/dev/null; glanz store %1$s/image --verify",
     NULL},
    {1, "printf '{\"at\":\"1 s\",\"recall\":\"nobody\"}\\n' > %1$s/log; glanz play " DEMO "--for 2s --inputs %1$s/log",
     "\"nobody\": there is none of that name"},
    {1, "printf '{\"at\":\"1 s\",\"forget\":\"nobody\"}\\n' > %1$s/log; glanz play " DEMO "--for 2s --inputs %1$s/log",
     "\"nobody\""},
};

START_TEST(exit_codes_are_as_promised) {
    EXPECT(codes[_i].code, codes[_i].line);
    if (codes[_i].says != NULL) {
        SAYS(codes[_i].says);
    }
    ck_assert_msg(strstr(printed, "GLANZ_ERR") == NULL, "a bare status: %s", printed);
}
END_TEST

/* Whatever ends it, the terminal is as it was. */
START_TEST(the_terminal_is_left_as_it_was) {
    static const int ends[] = {SIGINT, SIGTERM, SIGQUIT, SIGHUP};
    for (size_t i = 0; i < sizeof ends / sizeof ends[0]; i++) {
        struct winsize size = {40, 120, 0, 0};
        struct termios before; /* given, since the program may have changed it before anybody can ask */
        struct termios after;
        int terminal;
        char text[4096];
        memset(&before, 0, sizeof before);
        before.c_iflag = ICRNL;
        before.c_oflag = OPOST | ONLCR;
        before.c_cflag = CREAD | CS8;
        before.c_lflag = ICANON | ECHO | ISIG;
        pid_t child = forkpty(&terminal, NULL, &before, &size);
        ck_assert_int_ge(child, 0);
        if (child == 0) {
            execl(GLANZ_TOOL_PATH, "glanz", "play", "demo/rig.json", "demo/show.json", "--for", "60s", (char *)NULL);
            _exit(9);
        }
        int is_raw = 0;
        for (int k = 0; k < 300 && !is_raw; k++) { /* until it has the terminal to itself */
            (void)!read(terminal, text, sizeof text);
            is_raw = tcgetattr(terminal, &after) == 0 && (after.c_lflag & (tcflag_t)ICANON) == 0;
        }
        ck_assert(is_raw);
        kill(child, ends[i]);
        while (read(terminal, text, sizeof text) > 0 && waitpid(child, NULL, WNOHANG) == 0) {
        }
        (void)waitpid(child, NULL, 0);
        if (tcgetattr(terminal, &after) == 0) {
            ck_assert_msg((after.c_lflag & (tcflag_t)(ICANON | ECHO)) == (before.c_lflag & (tcflag_t)(ICANON | ECHO)),
                          "signal %d", ends[i]);
        }
        close(terminal);
    }
}
END_TEST

/* In a terminal of any size nothing is written over its edge, which would move all of it up, and how to end it is always told.
 */
START_TEST(nothing_is_wider_than_the_terminal) {
    static const struct winsize sizes[] = {{24, 80, 0, 0}, {12, 40, 0, 0}, {50, 157, 0, 0}, {60, 300, 0, 0}};
    for (size_t i = 0; i < sizeof sizes / sizeof sizes[0]; i++) {
        static char text[1 << 20];
        size_t count = 0;
        ssize_t got;
        int terminal;
        int row = 1;
        int column = 1;
        struct winsize size = sizes[i];
        pid_t child = forkpty(&terminal, NULL, NULL, &size);
        ck_assert_int_ge(child, 0);
        if (child == 0) {
            execl(GLANZ_TOOL_PATH, "glanz", "play", "demo/rig.json", "demo/show.json", "--inputs", "demo/visitor.jsonl",
                  "--for", "7s", "--speed", "20", (char *)NULL);
            _exit(9);
        }
        while (count + 1 < sizeof text && (got = read(terminal, text + count, sizeof text - 1 - count)) > 0) {
            count += (size_t)got;
        }
        text[count] = '\0';
        kill(child, SIGKILL);
        (void)waitpid(child, NULL, 0);
        close(terminal);
        for (const char *at = text; *at != '\0';) {
            if (*at == '\x1b') {
                const char *end = at + strcspn(at, "HJKmhl");
                if (*end == 'H' && sscanf(at, "\x1b[%d;%dH", &row, &column) != 2) {
                    ck_abort_msg("a place that is none");
                }
                at = *end == '\0' ? end : end + 1;
                continue;
            }
            ck_assert_msg(row <= size.ws_row && column <= size.ws_col, "%u x %u: row %d, column %d: %.40s", size.ws_col,
                          size.ws_row, row, column, at);
            column += (*at & 0xC0) != 0x80;
            at++;
        }
        ck_assert_msg(count > 20000 && strstr(text, "q quit") != NULL && strstr(text, "1 press visitor button") != NULL,
                      "%u x %u: %zu", size.ws_col, size.ws_row, count);
    }
}
END_TEST

/* What takes more than two seconds says how far it is, also where no terminal is. */
START_TEST(long_runs_tell_how_far_they_are) {
    EXPECT(0, "begin=$(date +%%s); glanz sheet " DEMO "--over 200s -o %1$s/out 2> %1$s/progress; end=$(date +%%s); "
              "test $((end - begin)) -lt 4 || grep -q 'running: [1-9]0 %%' %1$s/progress");
    EXPECT(0, "glanz wire " DEMO "--for 100ms 2> %1$s/progress > /dev/null; test ! -s %1$s/progress");
}
END_TEST

/* Answers to the finder are taken back: the same is found as without the wrong ones, and none is taken back that there is not.
 */
START_TEST(answers_are_taken_back) {
    EXPECT(0, "printf 'back\\n1\\nb\\n4\\nn\\nback\\nback\\n11\\ny\\n' | glanz find demo/rig.json --output 'board line' --size "
              "40x10");
    SAYS("There is no answer to take back");
    SAYS("Found with 1 question and the last look");
    SAYS("\"first led\": \"bottom left\", \"along\": \"rows\", \"zigzag\": true");
    EXPECT(0, "printf -- '- white - blue green - - red\n- red green - - white blue -\nwhite - green - - red blue "
              "-\n1\n2\n3\n4\n5\n6\n7\n8\nyes\n' | "
              "glanz find demo/rig.json --output 'board line' --size 8x4 --panels 4x2"); /* eight panels: two questions */
    SAYS("\"- red green - - white blue -\" is none of the answers");                     /* there hangs another already */
    SAYS("Found with 10 questions and the last look");
    SAYS("\"first\": 128, \"columns\": 8, \"rows\": 4, \"first led\": \"top left\", \"along\": \"columns\", \"left\": 8, "
         "\"top\": 4");
    EXPECT(2, "glanz find demo/rig.json --output 'board line' --size 8x4 --panels 3x3");
    SAYS("eight at the most");
}
END_TEST

/* What the rig takes its panels for is tried and changed beside the letters: they are drawn where the simulated panels really
 * hang, so the right setting is the one that reads. */
#define SIGN(MORE)                                                                                                             \
    "{\"rig\":\"t\",\"supplies\":{\"s\":{\"volts\":\"5 V\"}},\"outputs\":{\"o\":{\"pin\":1,\"supply\":\"s\",\"line\":[{"       \
    "\"chip\":\"WS2812B\",\"leds\":200}]}},\"surfaces\":{\"sign\":{\"grid\":[{\"output\":\"o\",\"first\":8,\"columns\":8,"     \
    "\"rows\":8,\"left\":6,\"along\":\"columns\"},{\"output\":\"o\",\"first\":72,\"columns\":6,\"rows\":8,\"zigzag\":true,"    \
    "\"first led\":\"bottom right\"},{\"output\":\"o\",\"first\":" MORE ",\"columns\":5,\"rows\":14,\"top\":8,"                \
    "\"turned\":\"90 deg\"}]}}}"
#define READS                                                                                                                  \
    "    . W W W . . . . . W W . . . \n    . W . . . . . . W . . . . . \n    . W W . . . . . W . W . . . \n"                   \
    "    . W . . . . . . W . W . . . \n    . W . . . . . . . W W . . . \n"

START_TEST(settings_are_tried_beside_the_letters) {
    EXPECT(0, "printf '%%s' '" SIGN("120") "' > %1$s/sign.json; printf 'yes\n' | glanz find %1$s/sign.json --surface sign "
                                           "--hangs sign");
    SAYS(READS); /* what the rig says is right: nothing to change */
    SAYS("\"first\": 72, \"columns\": 6, \"rows\": 8, \"first led\": \"bottom right\", \"along\": \"rows\", \"zigzag\": true, "
         "\"left\": 0, \"top\": 0");
    SAYS("\"first\": 120, \"columns\": 14, \"rows\": 5, \"first led\": \"top right\", \"along\": \"columns\", \"left\": 0, "
         "\"top\": 8");
    EXPECT(0, "printf '1 left straight\n1 diagonal\n9 left\n2\nswap 1 4\n1 right zigzag\nyes\n' | glanz find %1$s/sign.json "
              "--surface sign --hangs sign > %1$s/said; tail -n 25 %1$s/said");
    SAYS(READS); /* changed and put right again */
    EXPECT(0, "cat %1$s/said");
    SAYS("Panel 1, 6x8 at 0, 0, is number 2 along the line: first LED bottom left, along rows, all one way.");
    SAYS("\"1 diagonal\" is none of the answers");
    SAYS("\"9 left\" is none of the answers");
    SAYS("\"swap 1 4\" is none of the answers");
    EXPECT(0, "printf 'try\nswap 1 2\nback\nback\n- red -\nswap 3 1\nyes\n' | glanz find %1$s/sign.json --panels "
              "6x8+0+0,8x8+6+0,14x5+0+8"); /* of different sizes: the one that is lit first, then the others are supposed */
    SAYS(
        "\"first\": 0, \"columns\": 8, \"rows\": 8, \"first led\": \"top left\", \"along\": \"rows\", \"left\": 6, \"top\": 0");
    SAYS("\"first\": 64, \"columns\": 14, \"rows\": 5, \"first led\": \"top left\", \"along\": \"rows\", \"left\": 0");
    EXPECT(2, "glanz find %1$s/sign.json --panels 6x8+0+0,8x8");
    SAYS("--panels: panel 2: expected columns, rows, left and top such as 16x16+0+0");
    EXPECT(2, "glanz find %1$s/sign.json --panels 6x8+0+0,8x8+5+7");
    SAYS("--panels: panel 2 lies over panel 1");
    EXPECT(2, "glanz find %1$s/sign.json --panels 6x8+0+0,8x1+6+0");
    SAYS("panels of 2x2 LEDs and more");
    EXPECT(2, "glanz find %1$s/sign.json --panels 2x2+0+0,2x2+2+0,2x2+4+0,2x2+6+0,2x2+8+0,2x2+10+0,2x2+12+0,2x2+14+0,2x2+16+0");
    SAYS("eight at the most");
    EXPECT(2, "glanz find %1$s/sign.json --panels 6x8+0+0 --size 6x8");
    SAYS("--size: expected none beside a list of panels");
    EXPECT(2, "glanz find %1$s/sign.json --surface sign --size 6x8");
    SAYS("--surface takes the place of");
    EXPECT(1, "glanz find %1$s/sign.json --surface none");
    SAYS("no such surface: \"none\"");
    EXPECT(1, "glanz find demo/rig.json --surface \"ship's wheel\"");
    SAYS("expected a grid");
    EXPECT(1, "printf '%%s' '" SIGN("125") "' > %1$s/gap.json; glanz find %1$s/gap.json --surface sign");
    SAYS("expected panels that follow each other on one output");
}
END_TEST

/* The simulated LEDs of one stretch are unequal; answers go by what is drawn. What is told makes them equal, beside trims that
 * are there. */
START_TEST(two_makes_are_matched) {
    EXPECT(0, "sed 's/\"trim\": { \"red\": \"100 %%\", \"green\": \"94 %%\", \"blue\": \"88 %%\" }/\"trim\": { \"red\": \"50 "
              "%%\", \"green\": \"94 %%\", "
              "\"blue\": \"100 %%\" }/' demo/rig.json > %1$s/true.json; cmp -s demo/rig.json %1$s/true.json && exit 9; "
              "printf 'd d d\\nd b d\\na a d\\nx x x\\na a a\\n' | glanz match demo/rig.json -1 'rail line/1' -2 'rail line/2' "
              "--hardware %1$s/true.json");
    SAYS("is no answer");
    SAYS("Found with 4 questions");
    SAYS("output \"rail line\", stretch 2: \"trim\": { \"red\": \"100.0 %\"");
}
END_TEST

/* A store is seen by every command that shows something, and not changed by it. */
START_TEST(store_is_seen_and_not_changed) {
    EXPECT(0, "glanz picture demo/waves.gif --rig demo/rig.json --surface 'tide board' --for 200ms --keep %1$s/kept > "
              "/dev/null; cp %1$s/kept %1$s/before; "
              "echo '{\"show\":\"p\",\"looks\":{\"w\":{\"effect\":\"picture\",\"picture\":\"waves\"}},"
              "\"segments\":{\"b\":{\"surface\":\"tide board\",\"look\":\"w\"}}}' > %1$s/p.json");
    EXPECT(1, "glanz check demo/rig.json %1$s/p.json");
    SAYS("no such picture");
    EXPECT(0, "for c in check write current forecast source signals; do glanz $c demo/rig.json %1$s/p.json --store %1$s/kept > "
              "/dev/null || exit 1; done; "
              "glanz sheet demo/rig.json %1$s/p.json --store %1$s/kept --at 500ms -o %1$s/p.png");
    EXPECT(0, "cmp %1$s/kept %1$s/before");
    EXPECT(0, "ls /tmp/glanz-store-* 2> /dev/null | wc -l | grep -qx 0");
    EXPECT(1, "head -c 5000 %1$s/kept > %1$s/cut; glanz check demo/rig.json %1$s/p.json --store %1$s/cut");
    SAYS("expected an image of a store");
    EXPECT(3, "glanz check demo/rig.json %1$s/p.json --store %1$s/nothing");
    EXPECT(3, "glanz current demo/rig.json %1$s/p.json --store %1$s/nothing");
}
END_TEST

Suite *files_suite(void) {
    Suite *suite = suite_create("files");
    TCase *tcase = tcase_create("Files");
    tcase_set_timeout(tcase, 200);
    tcase_add_checked_fixture(tcase, setup, teardown);
    tcase_add_loop_test(tcase, what_is_refused_touches_no_file, 0, WRITERS);
    tcase_add_loop_test(tcase, a_full_disk_leaves_the_old_file, 0, WRITERS);
    tcase_add_test(tcase, devices_and_pipes_are_written_straight);
    tcase_add_test(tcase, a_store_on_a_full_disk_is_told);
    tcase_add_loop_test(tcase, exit_codes_are_as_promised, 0, sizeof codes / sizeof codes[0]);
    tcase_add_test(tcase, the_terminal_is_left_as_it_was);
    tcase_add_test(tcase, long_runs_tell_how_far_they_are);
    tcase_add_test(tcase, nothing_is_wider_than_the_terminal);
    tcase_add_test(tcase, answers_are_taken_back);
    tcase_add_test(tcase, settings_are_tried_beside_the_letters);
    tcase_add_test(tcase, store_is_seen_and_not_changed);
    tcase_add_test(tcase, two_makes_are_matched);
    suite_add_tcase(suite, tcase);
    return suite;
}
