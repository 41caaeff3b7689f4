/* SPDX-License-Identifier: MIT */
/* Effects of one's own: taken from C files and shared objects by the tool, refused with the reason, built anew while they run;
 * and another edition of an effect in an engine that goes on. */
#include <check.h>
#include <signal.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/stat.h>
#include <sys/wait.h>
#include <time.h>
#include <unistd.h>

#include "stage.h"
#include "suites.h"

/* ---- another edition, in the engine ---- */

static struct stage plain, other;

static void setup(void) {
    ck_assert_int_eq(chdir(GLANZ_SOURCE), 0);
}

static void teardown(void) {
    stage_close(&plain);
    stage_close(&other);
}

static const char shows[][400] = {
    "{'show':'t','looks':{'a':{'effect':'comet','speed':'9 leds/s'}},'segments':{'s':{'surface':'a','look':'a'}}}",
    "{'show':'t','looks':{'a':{'effect':'colony','speed':'5 passes/s'}},'segments':{'s':{'surface':'a','look':'a'}}}",
    "{'show':'t','looks':{'a':{'effect':'tidemark','level':{'follows':'w','from':'0 %','to':'100 %'}}},'signals':{'w':{'wave':"
    "'sine','period':'1 s'}},'segments':{'s':{'surface':'a','look':'a'}}}",
    "{'show':'t','looks':{'a':{'effect':'clouds'},'b':{'effect':'plain','color':'#203040'}},'segments':{'s':{'surface':'a',"
    "'look':'a'}}}"};

/* An edition that is the same leaves every byte as it was: phases, numbers, memory, drives go on. */
START_TEST(same_edition_changes_nothing) {
    for (size_t i = 0; i < sizeof shows / sizeof shows[0]; i++) {
        stage_must_open(&plain, strip_rig(40), shows[i]);
        stage_must_open(&other, strip_rig(40), shows[i]);
        GLANZ_CONST struct glanz_effect *before = other.show->looks[0].effect;
        struct glanz_effect after[2] = {*before, *before};
        struct glanz_engine *engine = glanz_device_engine(other.device);
        for (uint64_t frame = 0; frame < 300; frame++) {
            if (frame == 70) {
                ck_assert_int_eq(glanz_engine_exchange(engine, before, &after[0]), GLANZ_OK);
            }
            if (frame == 200) {
                ck_assert_int_eq(glanz_engine_exchange(engine, &after[0], &after[1]), GLANZ_OK);
            }
            ck_assert_int_eq(stage_frame(&plain, frame * 10000), GLANZ_OK);
            ck_assert_int_eq(stage_frame(&other, frame * 10000), GLANZ_OK);
            ck_assert_msg(memcmp(plain.bytes[0], other.bytes[0], plain.count[0]) == 0, "%s: frame %u", before->name,
                          (unsigned)frame);
        }
        ck_assert_int_eq(glanz_engine_exchange(engine, &after[1], before), GLANZ_OK); /* before these are gone */
        stage_close(&plain);
        stage_close(&other);
    }
}
END_TEST

static void shade_green(struct glanz_light *light, const struct glanz_frame *frame, const glanz_place *places, uint8_t count) {
    (void)frame;
    (void)places;
    for (uint8_t i = 0; i < count; i++) {
        light[i] = glanz_rgb_light(GLANZ_RGB(0, 255, 0));
    }
}

/* Another shade shows in the next frame, though nothing moves; a still look too. */
START_TEST(other_edition_shows_at_once) {
    stage_must_open(&plain, strip_rig(40),
                    "{'show':'t','brightness':'100 %','looks':{'a':{'effect':'plain','color':'#ff0000'}},'segments':{'s':{"
                    "'surface':'a','look':'a'}}}");
    GLANZ_CONST struct glanz_effect *before = plain.show->looks[0].effect;
    struct glanz_effect after = *before;
    after.shade = shade_green;
    stage_run(&plain, 0, 1500000, 100);
    unsigned sent = plain.sent;
    stage_run(&plain, 1510000, 1800000, 100);
    ck_assert_uint_eq(plain.sent, sent); /* it stands still */
    ck_assert_uint_eq(stage_led(&plain, 0, 7, 0), 255);
    ck_assert_int_eq(glanz_engine_exchange(glanz_device_engine(plain.device), before, &after), GLANZ_OK);
    ck_assert_int_eq(stage_frame(&plain, 1810000), GLANZ_OK);
    ck_assert_uint_eq(stage_led(&plain, 0, 7, 0), 0);
    ck_assert_uint_eq(stage_led(&plain, 0, 7, 1), 255);
    ck_assert_int_eq(glanz_engine_exchange(glanz_device_engine(plain.device), &after, before), GLANZ_OK);
}
END_TEST

static struct glanz_engine *inside;
static glanz_status said;

static void paint_within(struct glanz_light *light, uint8_t output, uint16_t first, uint8_t count, void *user) {
    (void)output;
    (void)first;
    memset(light, 0, sizeof *light * count);
    said = glanz_engine_exchange(inside, &glanz_effect_comet, (const struct glanz_effect *)user);
}

static uint32_t wants_more(const struct glanz_frame *frame) {
    return (uint32_t)frame->length * frame->rows + 4000;
}

START_TEST(another_effect_is_no_edition) {
    stage_must_open(&plain, strip_rig(40), shows[0]);
    struct glanz_engine *engine = glanz_device_engine(plain.device);
    struct glanz_effect after = glanz_effect_comet;
    struct glanz_param params[GLANZ_PARAMS];
    memcpy(params, after.params, sizeof params[0] * after.param_count);
    after.params = params;
    ck_assert_int_eq(glanz_engine_exchange(NULL, &glanz_effect_comet, &after), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_engine_exchange(engine, NULL, &after), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_engine_exchange(engine, &glanz_effect_comet, NULL), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_engine_exchange(engine, &glanz_effect_comet, &glanz_effect_plain), GLANZ_ERR_STATE);
    params[2].high--;
    ck_assert_int_eq(glanz_engine_exchange(engine, &glanz_effect_comet, &after), GLANZ_ERR_STATE);
    params[2].high++;
    params[1].name = "beyond";
    ck_assert_int_eq(glanz_engine_exchange(engine, &glanz_effect_comet, &after), GLANZ_ERR_STATE);
    params[1].name = glanz_effect_comet.params[1].name;
    after.version--;
    ck_assert_int_eq(glanz_engine_exchange(engine, &glanz_effect_comet, &after), GLANZ_ERR_STATE);
    after.version++;
    inside = engine;
    ck_assert_int_eq(glanz_engine_paint(engine, paint_within, &after), GLANZ_OK);
    ck_assert_int_eq(stage_frame(&plain, 10000), GLANZ_OK);
    ck_assert_int_eq(said, GLANZ_ERR_BUSY);
    ck_assert_int_eq(glanz_engine_paint(engine, NULL, NULL), GLANZ_OK);
    ck_assert_int_eq(glanz_engine_exchange(engine, &glanz_effect_comet, &after), GLANZ_OK);
    ck_assert_int_eq(glanz_engine_exchange(engine, &after, &glanz_effect_comet), GLANZ_OK);
    stage_close(&plain);
    /* what is remembered has another size */
    stage_must_open(&plain, strip_rig(40), shows[1]);
    stage_run(&plain, 0, 100000, 100);
    after = glanz_effect_colony;
    after.memory = wants_more;
    ck_assert_int_eq(glanz_engine_exchange(glanz_device_engine(plain.device), &glanz_effect_colony, &after), GLANZ_ERR_STATE);
}
END_TEST

static GLANZ_CONST char *low_below_high(const int32_t *number) {
    return number[GLANZ_COMET_TAIL] > GLANZ_FIXED(20) && number[GLANZ_COMET_WAY] != 0 ? "expected a way on for a long tail"
                                                                                      : NULL;
}

START_TEST(an_effect_refuses_numbers_that_do_not_go_together) {
    struct glanz_effect effect = glanz_effect_comet;
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    effect.validate = low_below_high;
    struct glanz_setting settings[] = {{GLANZ_COMET_TAIL, GLANZ_UNIT_LEDS, GLANZ_FIXED(25)}, {GLANZ_COMET_WAY, 0, 1}};
    struct glanz_look look = {.name = "long", .effect = &effect, .settings = settings, .setting_count = 1};
    ck_assert_int_eq(glanz_look_check(&look, &fault), GLANZ_OK);
    look.setting_count = 2;
    ck_assert_int_eq(glanz_look_check(&look, &fault), GLANZ_ERR_SHOW);
    ck_assert_str_eq(fault.text, "expected a way on for a long tail");
    ck_assert_str_eq(fault.where, "/looks/long");
    settings[0].number = GLANZ_FIXED(20);
    ck_assert_int_eq(glanz_look_check(&look, &fault), GLANZ_OK);
}
END_TEST

/* ---- the tool ---- */

static char printed[100000];
static char folder[] = "/tmp/glanz-own-XXXXXX";
static char source[10000];

static int run(const char *line) {
    char whole[2000];
    snprintf(whole, sizeof whole, "cd %s && %s 2>&1", folder, line);
    FILE *pipe = popen(whole, "r");
    size_t count = fread(printed, 1, sizeof printed - 1, pipe);
    printed[count] = '\0';
    int status = pclose(pipe);
    return WIFEXITED(status) ? WEXITSTATUS(status) : -1;
}

/* The example's source with one piece of it another, written to a file as editors do it: beside, then in its place. */
static void write_source(const char *name, const char *piece, const char *instead) {
    char beside[200];
    char path[200];
    snprintf(beside, sizeof beside, "%s/beside", folder);
    snprintf(path, sizeof path, "%s/%s", folder, name);
    const char *at = piece == NULL ? NULL : strstr(source, piece);
    ck_assert_msg(piece == NULL || at != NULL, "the example has no %s", piece);
    FILE *file = fopen(beside, "w");
    if (at == NULL) {
        fputs(source, file);
        fputs(instead == NULL ? "" : instead, file);
    } else {
        fprintf(file, "%.*s%s%s", (int)(at - source), source, instead, at + strlen(piece));
    }
    fclose(file);
    ck_assert_int_eq(rename(beside, path), 0);
}

static void open_folder(void) {
    char line[300];
    ck_assert_int_eq(chdir(GLANZ_SOURCE), 0);
    strcpy(folder + sizeof folder - 7, "XXXXXX");
    ck_assert_ptr_nonnull(mkdtemp(folder));
    FILE *file = fopen("examples/effects/lighthouse.c", "r");
    size_t count = fread(source, 1, sizeof source - 1, file);
    source[count] = '\0';
    fclose(file);
    snprintf(line, sizeof line, "cp examples/effects/rig.json examples/effects/show.json %s", folder);
    ck_assert_int_eq(system(line), 0);
}

static void close_folder(void) {
    char line[100];
    snprintf(line, sizeof line, "rm -rf %s", folder);
    ck_assert_int_eq(system(line), 0);
}

static const struct refused {
    const char *piece, *instead, *says;
} refused[] = {
    {"light[i] =", "light[i] = foo +", "one.c:"},
    {"light[i] = glanz", "light[i + 1] = glanz", "on a line of 20 LEDs: its shade wrote beyond the 13 places"},
    {"light[i] = glanz", "if (i != 3) light[i] = glanz", "gave two answers for LED 3, or left it as it was"},
    {"light[i] = glanz", "light[i] = i == 0 ? light[0] : glanz", "gave two answers for LED 0"},
    {"(uint32_t)away * 2u", "(uint32_t)away * (2u + (i & 1u))", "another light when it was asked for it alone"},
    {"light[i] = glanz", "((struct glanz_frame *)frame)->kept[0]++; light[i] = glanz", "its shade changed the frame"},
    {"light[i] = glanz", "*(volatile int *)8 = 0; light[i] = glanz",
     "\"lighthouse\" on a line of 20 LEDs: it crashed: it reached"},
    {"uint32_t level =", "uint32_t level = (uint32_t)(5 / (frame->kept[1] - frame->kept[2])) +", "it divided by zero"},
    {"uint32_t level =", "if (frame->length == 24) abort(); uint32_t level =", "on a ring of 24 LEDs: it crashed"},
    {"\"lighthouse\"", "\"comet\"", "an effect \"comet\" is in the catalogue too"},
    {"\"lighthouse\"", "\"\"", "an effect has no name"},
    {".version = GLANZ_EFFECT_VERSION", ".version = 2", "it is of version 2, this is version 4"},
    {"GLANZ_EFFECTS_SHARED", "struct glanz_effect_set; //", "expected GLANZ_EFFECTS_SHARED(&effect, ...)"},
    {"GLANZ_EFFECTS_SHARED(&harbour_lighthouse)", "GLANZ_EFFECTS_SHARED(&harbour_lighthouse, &harbour_lighthouse)",
     "another one before it has that name"},
    {".shade = shade", ".shade = NULL", "expected either .shade, for a line, or .shade_field"},
    {"\"width\"", "\"color\"", "parameter 1, \"color\", has a name that an earlier one has"},
    {"\"width\"", "\"palette\"", "parameter 1, \"palette\", has a name that looks use"},
    {"GLANZ_FIXED(12)", "GLANZ_FIXED(0.5)", "parameter 1, \"width\", is out of its bounds when nothing is said"},
    {"GLANZ_UNIT_PASS_TIME", "GLANZ_UNIT_NONE", "parameter 2, \"speed\", has a unit that does not go with its kind"},
    {".params = params", ".params = NULL", "expected a list of at most"},
    {".shade = shade", ".shade = shade, .needs = 64", "it needs what there is not"},
};

START_TEST(broken_effects_are_refused_with_the_reason) {
    const char *check = GLANZ_TOOL_PATH " check --effects one.c rig.json show.json";
    write_source("one.c", NULL, NULL);
    ck_assert_msg(run(check) == 0, "%s", printed);
    ck_assert_ptr_nonnull(strstr(printed, "look \"beam\""));
    for (size_t i = 0; i < sizeof refused / sizeof refused[0]; i++) {
        write_source("one.c", refused[i].piece, refused[i].instead);
        int code = run(check);
        ck_assert_msg(code == 1 && strstr(printed, refused[i].says) != NULL, "%s: %d, %s", refused[i].instead, code, printed);
    }
    /* a step that writes where it may not, memory beyond its end */
    const char *steps =
        "\nstatic uint8_t step(struct glanz_frame *frame) {\n"
        "    if (frame->memory != NULL) {\n        ((uint8_t *)frame->memory)[8] = 1;\n    }\n    return 1;\n}\n"
        "static uint32_t memory(const struct glanz_frame *frame) {\n    return (void)frame, 8;\n}\n";
    char *keep = strdup(source);
    char *at = strstr(source, "\n/* 3. The effect");
    snprintf(source, sizeof source, "%.*s%s%s", (int)(at - source), keep, steps, keep + (at - source));
    write_source("one.c", ".shade = shade", ".shade = shade, .step = step, .memory = memory");
    ck_assert_int_eq(run(check), 1);
    ck_assert_msg(strstr(printed, "it wrote beyond the 8 bytes that it wanted to remember") != NULL, "%s", printed);
    strcpy(source, keep);
    free(keep);
}
END_TEST

START_TEST(shared_objects_are_taken_or_refused) {
    char line[1000];
    write_source("one.c", NULL, NULL);
    snprintf(line, sizeof line,
             "cc -std=c11 -O1 -fPIC -shared -DGLANZ_SHARED -I" GLANZ_SOURCE "/include one.c -o one.so && " GLANZ_TOOL_PATH
             " check --effects one.so rig.json show.json");
    ck_assert_msg(run(line) == 0, "%s", printed);
    snprintf(line, sizeof line,
             "cc -std=c11 -O1 -fPIC -shared -DGLANZ_SHARED -DGLANZ_PARAMS=6 -I" GLANZ_SOURCE
             "/include one.c -o two.so && " GLANZ_TOOL_PATH " check --effects two.so rig.json show.json");
    ck_assert_int_eq(run(line), 1);
    ck_assert_ptr_nonnull(strstr(printed, "it was built with other options"));
    ck_assert_int_eq(run("echo text > no.so; " GLANZ_TOOL_PATH " check --effects no.so rig.json"), 1);
    ck_assert_ptr_nonnull(strstr(printed, "glanz: no.so: "));
    ck_assert_int_eq(run(GLANZ_TOOL_PATH " check --effects none.c rig.json"), 3);
    ck_assert_ptr_nonnull(strstr(printed, "cannot open none.c"));
    ck_assert_int_eq(run("CC=nowhere " GLANZ_TOOL_PATH " check --effects one.c rig.json"), 1);
    ck_assert_ptr_nonnull(strstr(printed, "cannot run the C compiler nowhere"));
    ck_assert_int_eq(run(GLANZ_TOOL_PATH " check --effects one.c --effects one.so rig.json"), 1);
    ck_assert_ptr_nonnull(strstr(printed, "an effect \"lighthouse\" is in one.c too"));
    write_source("two.c", "\"lighthouse\"", "\"second lighthouse\"");
    ck_assert_int_eq(run(GLANZ_TOOL_PATH " list effects --effects one.c --effects two.c"), 0);
    ck_assert_ptr_nonnull(strstr(printed, "second lighthouse"));
    ck_assert_int_eq(run(GLANZ_TOOL_PATH " forecast --effects one.c rig.json show.json"), 0);
    ck_assert_ptr_nonnull(strstr(printed, "not measured, counted as the middle effect of the catalogue: lighthouse"));
    ck_assert_int_eq(run(GLANZ_TOOL_PATH " source --effects one.c rig.json show.json"), 0);
    ck_assert_ptr_nonnull(strstr(printed, "extern GLANZ_CONST struct glanz_effect harbour_lighthouse;"));
    write_source("two.c", "GLANZ_CONST struct glanz_effect harbour", "static GLANZ_CONST struct glanz_effect harbour");
    ck_assert_int_eq(run(GLANZ_TOOL_PATH " source --effects two.c rig.json show.json"), 1);
    ck_assert_ptr_nonnull(strstr(printed, "the effect \"lighthouse\" is static in two.c"));
    /* what no check has seen: it crashes later, and says whose it is */
    write_source("one.c", "uint32_t level =", "if (frame->length == 60) *(volatile int *)16 = 0; uint32_t level =");
    ck_assert_int_eq(run(GLANZ_TOOL_PATH " play --effects one.c --for 1s rig.json show.json"), 4);
    ck_assert_ptr_nonnull(strstr(printed, "glanz: one.c: the effect \"lighthouse\" reached memory that is not its own"));
    ck_assert_int_eq(run("mkdir t && TMPDIR=$PWD/t " GLANZ_TOOL_PATH
                         " play --effects one.c --for 1s rig.json show.json 2> said; ls t | wc -l"),
                     0);
    ck_assert_str_eq(printed, "0\n"); /* nothing is left behind */
}
END_TEST

/* ---- built anew while it plays ---- */

static FILE *player;
static pid_t player_pid;

static void play(void) {
    int ends[2];
    ck_assert_int_eq(pipe(ends), 0);
    player_pid = fork();
    if (player_pid == 0) {
        ck_assert_int_eq(chdir(folder), 0);
        dup2(ends[1], 1);
        dup2(ends[1], 2);
        close(ends[0]);
        execl(GLANZ_TOOL_PATH, "glanz", "play", "--plain", "--watch", "one.c", "rig.json", "show.json", (char *)NULL);
        _exit(127);
    }
    close(ends[1]);
    player = fdopen(ends[0], "r");
}

/* Read on until a line has a text; Check ends it where that never comes. */
static void wait_for(char *line, size_t size, const char *text) {
    do {
        ck_assert_msg(fgets(line, (int)size, player) != NULL, "it ended before \"%s\"", text);
    } while (strstr(line, text) == NULL);
}

START_TEST(saved_is_shown) {
    char line[1000];
    write_source("one.c", NULL, NULL);
    ck_assert_int_eq(run(GLANZ_TOOL_PATH " play --effects one.c --for 30s rig.json show.json"), 0);
    play();
    wait_for(line, sizeof line, "  rail #");
    /* the same again: phases go on, so that the light is what it would have been */
    write_source("one.c", NULL, "/* a word more */\n");
    wait_for(line, sizeof line, "built anew");
    wait_for(line, sizeof line, "  rail #");
    wait_for(line, sizeof line, "  rail #");
    ck_assert_msg(strstr(printed, line) != NULL, "%s in %s", line, printed);
    /* an error, a crash, a name that the show wants and that is gone: the light goes on as it was */
    const char *says[] = {"error: ", "it crashed", "no such effect (at /looks/beam/effect)"};
    const char *pieces[] = {"light[i] =", "light[i] =", "\"lighthouse\""};
    const char *instead[] = {"light[i] = foo +", "*(volatile int *)8 = 0; light[i] =", "\"fan\""};
    for (int i = 0; i < 3; i++) {
        write_source("one.c", pieces[i], instead[i]);
        wait_for(line, sizeof line, says[i]);
        wait_for(line, sizeof line, "  rail #");
        wait_for(line, sizeof line, "  rail #");
        ck_assert_msg(strstr(printed, line) != NULL, "%s in %s", line, printed);
    }
    /* another colour, then another parameter */
    write_source("one.c", "GLANZ_KELVIN(4500)", "GLANZ_RGB(0, 0, 255)");
    wait_for(line, sizeof line, "built anew");
    wait_for(line, sizeof line, "  rail #");
    wait_for(line, sizeof line, "  rail #0000");
    write_source("one.c", "\"width\"", "\"span\"");
    wait_for(line, sizeof line, "built anew");
    ck_assert_int_eq(kill(player_pid, SIGINT), 0);
    int status = -1;
    ck_assert_int_eq(waitpid(player_pid, &status, 0), player_pid);
    ck_assert(WIFEXITED(status) && WEXITSTATUS(status) == 0);
    fclose(player);
}
END_TEST

Suite *own_suite(void) {
    Suite *suite = suite_create("own");
    TCase *editions = tcase_create("editions");
    tcase_add_checked_fixture(editions, setup, teardown);
    tcase_add_test(editions, same_edition_changes_nothing);
    tcase_add_test(editions, other_edition_shows_at_once);
    tcase_add_test(editions, another_effect_is_no_edition);
    tcase_add_test(editions, an_effect_refuses_numbers_that_do_not_go_together);
    suite_add_tcase(suite, editions);
    TCase *files = tcase_create("files");
    tcase_add_checked_fixture(files, open_folder, close_folder);
    tcase_set_timeout(files, 300);
    tcase_add_test(files, broken_effects_are_refused_with_the_reason);
    tcase_add_test(files, shared_objects_are_taken_or_refused);
    tcase_add_test(files, saved_is_shown);
    suite_add_tcase(suite, files);
    return suite;
}
