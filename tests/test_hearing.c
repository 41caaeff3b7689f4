/* SPDX-License-Identifier: MIT */
/* Sound through the whole: from a microphone to signals, triggers and light; from documents, from files, by the tool. */
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <unistd.h>

#include <glanz/linux.h>
#include <glanz/microphone.h>

#include "sounds.h"
#include "stage.h"
#include "suites.h"

#define RATE 16000u
#define PI 3.14159265358979323846

static struct stage stage;

static void teardown(void) {
    stage_close(&stage);
}

static const char rig[] =
    "{'rig':'t','supplies':{'s':{'volts':'5 V'}},'outputs':{'o':{'pin':1,'supply':'s','line':[{'chip':'WS2812B','leds':160}]}},"
    "'surfaces':{'rail':{'strip':[{'output':'o','first':0,'leds':40}]},'wheel':{'ring':[{'output':'o','first':40,'leds':24}]},"
    "'board':{'grid':[{'output':'o','first':64,'columns':12,'rows':8,'first led':'top left','along':'rows','zigzag':true}]}},"
    "'inputs':{'button':{'button':{'pin':2,'pressed':'low'}},'bell':{'sound':{'pin':3,'rate':'16 kHz','bands':9}}}}";
#define BUTTON 0
#define BELL 1

#define SIGNALS                                                                                                                \
    "'signals':{'on':{'sound':'onset','of':'bell'},'low':{'sound':'low "                                                       \
    "onset','of':'bell'},'beat':{'sound':'beat','of':'bell'},"                                                                 \
    "'third':{'sound':'band','of':'bell','band':3},'quiet':{'sound':'silence','of':'bell'},'gone':{'sound':'gone','of':'bell'" \
    "},"                                                                                                                       \
    "'clip':{'sound':'clipping','of':'bell'},'loud':{'sound':'level','of':'bell'}},"
#define SHOW(looks, triggers)                                                                                                  \
    "{'show':'s','brightness':'100 %','change':'0 s'," SIGNALS "'looks':{'l':{'effect':'plain','color':'#000000'}" looks       \
    "},'segments':{'r':{'surface':'rail','look':'l'},'w':{'surface':'wheel','look':'l'},'b':{'surface':'board','look':'l'}"    \
    "}" triggers "}"
enum { ON = 2, LOW, BEAT, THIRD, QUIET, GONE, CLIP, LOUD }; /* the signals, behind two inputs */

static uint32_t level(uint8_t signal) {
    return glanz_control_level(glanz_device_control(stage.device), signal);
}

/* Samples up to a time, as a DMA brings them: in blocks of 80. @param at the next sample. */
static void push_until(const struct sound *is, size_t *at, uint64_t until_us) {
    size_t due = (size_t)(until_us * RATE / 1000000u);
    while (*at + 80 <= due && *at + 80 <= is->count) {
        *at += 80;
        ck_assert_int_eq(glanz_sound_push(stage.sounds[0], is->samples + *at - 80, 80, 1, (uint32_t)(*at * 1000000u / RATE)),
                         GLANZ_OK);
    }
}

/* ---- signals ---- */

static unsigned fired;
static uint64_t fired_at[4000];

static void note(const struct glanz_happening *happening, void *user) {
    (void)user;
    if (happening->description == GLANZ_HAPPENED_TRIGGER) {
        fired_at[fired++ % 4000u] = happening->at_us;
    }
}

/* Each onset is one edge, at its time, at any frame rate; also where frames stall for half a second. */
START_TEST(onsets_are_edges) {
    static const uint32_t frame_rates[] = {30, 100, 400, 2};
    struct sound is = sound_make(SOUND_TUNE, 7, RATE, 12, 110);
    size_t at = 0;
    uint64_t latest = 0;
    stage_must_open(&stage, rig,
                    SHOW("", ",'triggers':{'t':{'when':{'value':'on','rises above':'40 %'},'do':[{'brightness':'90 %'}]}}"));
    glanz_device_listen(stage.device, note, NULL);
    fired = 0;
    for (uint64_t frame = 0; frame < 12u * frame_rates[_i]; frame++) {
        uint64_t now = frame * 1000000u / frame_rates[_i];
        push_until(&is, &at, now);
        unsigned before = fired;
        ck_assert_int_eq(stage_frame(&stage, now), GLANZ_OK);
        const struct glanz_heard *heard = glanz_control_heard(glanz_device_control(stage.device), BELL);
        for (unsigned i = before; i < fired; i++) {
            ck_assert_uint_ge(fired_at[i], latest); /* in order */
            ck_assert_uint_le(fired_at[i], now);
            latest = fired_at[i];
        }
        if (fired != before && _i < 3) {
            ck_assert_msg(llabs((long long)fired_at[fired - 1u] - (long long)heard->onset[0].at_us) <= 1, "%llu us, not %u",
                          (unsigned long long)fired_at[fired - 1u], heard->onset[0].at_us);
            ck_assert_uint_gt(level(ON), 0);
        }
    }
    ck_assert_uint_gt(fired, 35);
    ck_assert_uint_eq(fired, glanz_sound_heard(stage.sounds[0])->onset[0].count);
    /* another show does not hear them once more, nor does the same rig begun anew */
    unsigned before = fired;
    ck_assert_int_eq(
        stage_show(&stage, SHOW(",'m':{'effect':'plain'}",
                                ",'triggers':{'t':{'when':{'value':'on','rises above':'40 %'},'do':[{'brightness':'80 %'}]}}")),
        GLANZ_OK);
    stage_run(&stage, 12000000u, 12100000u, 100);
    ck_assert_uint_eq(fired, before);
    ck_assert_int_eq(glanz_device_set_rig(stage.device, stage.rig, stage.show, 0, &stage.fault), GLANZ_OK);
    for (uint64_t now = 12100000u; now < 12300000u; now += 10000u) {
        int16_t silence[160] = {0};
        ck_assert_int_eq(glanz_sound_push(stage.sounds[0], silence, 160, 1, (uint32_t)now), GLANZ_OK);
        ck_assert_int_eq(stage_frame(&stage, now), GLANZ_OK);
    }
    ck_assert_uint_eq(fired, before);
    sound_free(&is);
}
END_TEST

/* The beat is a turn that only goes on, once round a beat; levels are those that were heard. */
START_TEST(beats_and_bands_are_signals) {
    static const uint32_t frame_rates[] = {30, 100, 200};
    struct sound is = sound_make(SOUND_DRUMS, 5, RATE, 20, 128);
    size_t at = 0;
    unsigned rounds = 0;
    uint32_t was = 0;
    stage_must_open(&stage, rig, SHOW("", ""));
    double sum = 0;
    unsigned counted = 0;
    for (uint64_t frame = 0; frame < 20u * frame_rates[_i]; frame++) {
        uint64_t now = frame * 1000000u / frame_rates[_i];
        push_until(&is, &at, now);
        ck_assert_int_eq(stage_frame(&stage, now), GLANZ_OK);
        const struct glanz_heard *heard = glanz_control_heard(glanz_device_control(stage.device), BELL);
        if (heard == NULL) {
            continue;
        }
        ck_assert_uint_eq(level(THIRD), glanz_level_of_value(heard->band[2]));
        ck_assert_uint_eq(level(BELL), glanz_level_of_value(heard->level[0]));
        ck_assert_uint_eq(level(LOUD), level(BELL));
        uint32_t turn = GLANZ_LEVEL_OF(level(BEAT));
        ck_assert((level(BEAT) & GLANZ_LEVEL_TURN) != 0);
        if (now > 6000000u) { /* it has found the beat */
            uint32_t step = (turn - was) & 0xFFFFu;
            ck_assert_msg(step < 32768u, "it turns back at %llu us", (unsigned long long)now);
            rounds += turn < was;
            for (size_t i = 0; i < is.onset_count; i++) { /* where it is when a drum on the beat sounds */
                if (now > is.onsets[i] * 1e6 && now - is.onsets[i] * 1e6 <= 1e6 / frame_rates[_i] && i % 2 == 0) {
                    double ago = (double)now / 1e6 - is.onsets[i];
                    double off = turn / 65536.0 - ago * 128 / 60;
                    off -= floor(off + 0.25); /* on the beat, or half-way */
                    sum += off > 0.25 ? off - 0.5 : off;
                    counted++;
                }
            }
        }
        was = turn;
    }
    double ms = sum / counted * 60 / 128 * 1000;
    printf("%u frames/s: %u beats in 14 s at 128 a minute, on average %.1f ms off the drums\n", frame_rates[_i], rounds, ms);
    ck_assert_uint_ge(rounds, 29);
    ck_assert_uint_le(rounds, 31);
    ck_assert(fabs(ms) < 15);
    sound_free(&is);
}
END_TEST

START_TEST(silence_and_loss) {
    int16_t samples[160];
    stage_must_open(&stage, rig, SHOW("", ""));
    ck_assert_int_eq(stage_frame(&stage, 0), GLANZ_OK);
    ck_assert_uint_eq(level(GONE), GLANZ_LEVEL_FULL); /* nothing was ever heard */
    ck_assert_uint_eq(level(QUIET), GLANZ_LEVEL_FULL);
    ck_assert_ptr_null(glanz_control_heard(glanz_device_control(stage.device), BELL));
    for (int k = 1; k < 900; k++) { /* a tone, silence, a clipped tone, nothing */
        uint64_t now = (uint64_t)k * 10000u;
        for (int i = 0; i < 160; i++) {
            double x = (k < 200 ? 9000 : k < 400 ? 0 : 60000) * sin(2 * PI * 500 * (k * 160 + i) / RATE);
            samples[i] = (int16_t)(x > 32767 ? 32767 : x < -32768 ? -32768 : x);
        }
        if (k < 500) {
            ck_assert_int_eq(glanz_sound_push(stage.sounds[0], samples, 160, 1, (uint32_t)now), GLANZ_OK);
        }
        ck_assert_int_eq(stage_frame(&stage, now), GLANZ_OK);
        ck_assert_uint_eq(level(GONE), k < 600 ? 0 : GLANZ_LEVEL_FULL);
        ck_assert_uint_eq(level(QUIET), (k > 310 && k < 400) || k >= 600 ? GLANZ_LEVEL_FULL
                                        : k < 200 || k > 400             ? 0
                                                                         : level(QUIET));
        ck_assert_uint_eq(level(CLIP), k >= 400 && k < 600 ? GLANZ_LEVEL_FULL : 0);
        ck_assert(k < 600 || level(BELL) == 0);
    }
}
END_TEST

/* ---- light ---- */

/* From a click to light: the bits that the last LED of 200 reads, at 100 frames a second. */
START_TEST(from_sound_to_light) {
    static uint64_t memory[40000];
    static const char long_rig[] = "{'rig':'t','supplies':{'s':{'volts':'5 "
                                   "V'}},'outputs':{'o':{'pin':1,'supply':'s','line':[{'chip':'WS2812B','leds':200}]}},"
                                   "'surfaces':{'rail':{'strip':[{'output':'o','first':0,'leds':200}]}},'inputs':{'bell':{'"
                                   "sound':{'pin':3,'rate':'16 kHz'}}}}";
    static const char show[] = "{'show':'s','brightness':'100 "
                               "%','signals':{'on':{'sound':'onset','of':'bell'}},'looks':{'l':{'effect':'plain','color':"
                               "{'follows':'on','from':'#000000','to':'#ffffff','rise':'0 s','fall':'0 "
                               "s'}}},'segments':{'r':{'surface':'rail','look':'l'}}}";
    struct sound is = sound_make(SOUND_CLICKS, 31, RATE, 30, 0);
    stage_must_open(&stage, long_rig, show);
    struct glanz_board_setup board_setup = {.hardware = stage.rig};
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    struct glanz_board *board = glanz_board_open(&board_setup, &fault);
    struct glanz_setup setup = {.rig = stage.rig,
                                .show = stage.show,
                                .port = glanz_board_port(board),
                                .parts = &glanz_everything,
                                .sounds = stage.sounds,
                                .sound_count = 1};
    struct glanz_device *device = NULL;
    ck_assert_int_eq(glanz_device_start(&device, memory, sizeof memory, &setup, &fault), GLANZ_OK);
    size_t at = 0;
    size_t click = 0;
    double late[400];
    size_t count = 0;
    for (uint64_t ms = 0; ms < 30000 && click < is.onset_count; ms++) { /* the board's time goes on by milliseconds */
        uint64_t now = ms * 1000u;
        push_until(&is, &at, now);
        glanz_board_time(board, now);
        if (ms % 10 == 0) {
            ck_assert_int_eq(glanz_device_frame(device, (uint32_t)now), GLANZ_OK);
        }
        double since = (double)now / 1e6 - is.onsets[click];
        if (since > 0 && glanz_board_lit(board, 0, 199).red > 20) {
            late[count++] = since * 1e3;
            click++;
        }
        if (since > 0.12) {
            click++;
        }
    }
    double worst = 0;
    double mean = 0;
    for (size_t i = 0; i < count; i++) {
        worst = fmax(worst, late[i]);
        mean += late[i] / (double)count;
    }
    printf("from a click to light, 200 LEDs at 100 frames/s: %zu of %zu, %.1f ms on average, %.1f ms at the most\n", count,
           is.onset_count, mean, worst);
    ck_assert_uint_ge(count * 100, is.onset_count * 97);
    ck_assert(worst <= 25);
    glanz_board_close(board);
    sound_free(&is);
}
END_TEST

/* Every look on sound, on a line, a ring and a grid: dark before anything sounds, lit with music, dark again when it has died
 * away. */
START_TEST(looks_live_on_sound) {
    static const char *const looks[] = {"{'effect':'columns'}",
                                        "{'effect':'columns','from':'middle','colored by':'band','hears':'bell'}",
                                        "{'effect':'loudness'}",
                                        "{'effect':'loudness','from':'middle','peaks':false}",
                                        "{'effect':'sonogram'}",
                                        "{'effect':'waveform'}",
                                        "{'effect':'throb','at':'on'}",
                                        "{'effect':'sparks','at':'on','part':'40 %'}",
                                        "{'effect':'fountain','fires at':'on'}",
                                        "{'effect':'plain','color':{'follows':'third','from':'#000000','to':'#ff8000'}}"};
    struct sound is = sound_make(SOUND_TUNE, 11, RATE, 6, 120);
    char show[2048];
    size_t at = 0;
    uint64_t lit = 0;
    snprintf(show, sizeof show,
             "{'show':'s','brightness':'100 %%','change':'0 s'," SIGNALS
             "'looks':{'l':%s},'segments':{'r':{'surface':'rail','look':'l'},"
             "'w':{'surface':'wheel','look':'l'},'b':{'surface':'board','look':'l'}}}",
             looks[_i]);
    stage_must_open(&stage, rig, show);
    for (uint64_t now = 0; now < 14000000u; now += 10000u) {
        push_until(&is, &at, now); /* nothing more after six seconds */
        ck_assert_int_eq(stage_frame(&stage, now), GLANZ_OK);
        uint32_t sum = 0;
        for (uint16_t led = 0; led < 160; led++) {
            sum += stage_led(&stage, 0, led, 0) + stage_led(&stage, 0, led, 1) + stage_led(&stage, 0, led, 2);
        }
        ck_assert_msg(now >= 300000u || sum == 0, "light without sound");
        lit += sum;
        if (now > 1000000u && now < 6000000u) {
            for (int part = 0; part < 3; part++) { /* each surface has its share, but where it hangs on luck */
                static uint64_t shares[3];
                shares[part] = now == 1010000u ? 0 : shares[part];
                for (uint16_t led = (uint16_t)(part == 0   ? 0
                                               : part == 1 ? 40
                                                           : 64);
                     led < (part == 0   ? 40
                            : part == 1 ? 64
                                        : 160);
                     led++) {
                    shares[part] += stage_led(&stage, 0, led, 0) + stage_led(&stage, 0, led, 1) + stage_led(&stage, 0, led, 2);
                }
                ck_assert_msg(now < 5980000u || shares[part] > 0, "%s: nothing on surface %d", looks[_i], part);
            }
        }
        ck_assert_msg(now < 13000000u || sum == 0, "%s: %u left after seven seconds of silence", looks[_i], sum);
    }
    ck_assert_uint_gt(lit, 10000);
    sound_free(&is);
}
END_TEST

/* ---- what cannot be ---- */

START_TEST(refused) {
    static const struct {
        const char *input, *signal, *says;
    } wrongs[] = {{"{'pin':3}", "", "is missing"},
                  {"{'pin':3,'rate':'4 kHz'}", "", "out of range"},
                  {"{'pin':3,'rate':'16000'}", "", "a frequency"},
                  {"{'pin':3,'rate':'16 kHz','to':'9 kHz'}", "", "0.45 of its rate"},
                  {"{'pin':3,'rate':'16 kHz','bands':40}", "", "1 to 32"},
                  {"{'pin':3,'rate':'16 kHz','bands':32,'from':'400 Hz'}", "", "narrower than can be told apart"},
                  {"{'pin':3,'rate':'16 kHz','span':'36'}", "", "a ratio"},
                  {"{'pin':3,'rate':'16 kHz','hum':'400 Hz'}", "", "45 Hz to 65 Hz"},
                  {"{'pin':3,'rate':'16 kHz'}", "{'sound':'band','of':'bell'}", "band is missing"},
                  {"{'pin':3,'rate':'16 kHz'}", "{'sound':'band','of':'bell','band':9}", "fewer bands"},
                  {"{'pin':3,'rate':'16 kHz'}", "{'sound':'level','of':'bell','band':2}", "only"},
                  {"{'pin':3,'rate':'16 kHz'}", "{'sound':'level','of':'button'}", "no input for sound"},
                  {"{'pin':3,'rate':'16 kHz'}", "{'sound':'level'}", "\"of\" is missing"},
                  {"{'pin':3,'rate':'16 kHz'}", "{'sound':'volume','of':'bell'}", "level, peak"},
                  {"{'pin':3,'rate':'16 kHz'}", "{'sound':'level','of':'bell','period':'1 s'}", "no \"period\""}};
    char rig_text[1024];
    char show[512];
    for (size_t i = 0; i < sizeof wrongs / sizeof *wrongs; i++) {
        snprintf(rig_text, sizeof rig_text,
                 "{'rig':'t','supplies':{'s':{'volts':'5 "
                 "V'}},'outputs':{'o':{'pin':1,'supply':'s','line':[{'chip':'WS2812B','leds':9}]}},"
                 "'surfaces':{'rail':{'strip':[{'output':'o','first':0,'leds':9}]}},'inputs':{'button':{'button':{'pin':2,'"
                 "pressed':'low'}},"
                 "'bell':{'sound':%s}}}",
                 wrongs[i].input);
        snprintf(show, sizeof show,
                 "{'show':'s',%s%s%s'looks':{'l':{'effect':'plain'}},'segments':{'r':{'surface':'rail','look':'l'}}}",
                 wrongs[i].signal[0] == '\0' ? "" : "'signals':{'x':", wrongs[i].signal,
                 wrongs[i].signal[0] == '\0' ? "" : "},");
        ck_assert_int_ne(stage_open(&stage, rig_text, show), GLANZ_OK);
        ck_assert_msg(strstr(stage.fault.text, wrongs[i].says) != NULL, "%s %s: %s", wrongs[i].input, wrongs[i].signal,
                      stage.fault.text);
        stage_close(&stage);
    }
    /* somebody must listen, with room enough; and the part must be there */
    stage_must_open(&stage, rig, SHOW("", ""));
    static GLANZ_SOUND_MEMORY(few, 8, 0, 0, 0);
    static const struct glanz_sound_setup eight = {NULL, NULL, NULL, 8};
    static uint64_t memory[40000];
    struct glanz_sound *small[1];
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    struct glanz_device *device = NULL;
    struct glanz_setup setup = {.rig = stage.rig, .show = stage.show, .port = &stage.port, .parts = &glanz_everything};
    ck_assert_int_eq(glanz_sound_start(&small[0], &few, sizeof few, &eight), GLANZ_OK);
    ck_assert_int_eq(glanz_device_start(&device, memory, sizeof memory, &setup, &fault), GLANZ_ERR_MEMORY);
    ck_assert_msg(strstr(fault.text, "input \"bell\": nobody listens") != NULL, "%s", fault.text);
    setup.sounds = small;
    setup.sound_count = 1;
    ck_assert_int_eq(glanz_device_start(&device, memory, sizeof memory, &setup, &fault), GLANZ_ERR_MEMORY);
    ck_assert_msg(strstr(fault.text, "more bands") != NULL, "%s", fault.text);
    struct glanz_parts without = glanz_everything;
    without.sound = NULL;
    setup.parts = &without;
    ck_assert_int_eq(glanz_device_start(&device, memory, sizeof memory, &setup, &fault), GLANZ_ERR_ABSENT);
    ck_assert_msg(strstr(fault.text, "sound") != NULL, "%s", fault.text);
    setup.parts = &glanz_everything;
    setup.sounds = stage.sounds;
    ck_assert_int_eq(glanz_device_start(&device, memory, sizeof memory, &setup, &fault), GLANZ_OK);
    ck_assert(glanz_device_uses(device, stage.sounds, sizeof stage.sounds) && glanz_device_uses(device, stage.sounds[0], 8));
    ck_assert(!glanz_device_uses(device, &few, sizeof few));
}
END_TEST

/* ---- files and the tool ---- */

static char folder[] = "/tmp/glanz-hearing-XXXXXX";

static void put_file(const char *name, const void *bytes, size_t count) {
    char path[128];
    snprintf(path, sizeof path, "%s/%s", folder, name);
    FILE *file = fopen(path, "wb");
    ck_assert_ptr_nonnull(file);
    ck_assert_uint_eq(fwrite(bytes, 1, count, file), count);
    ck_assert_int_eq(fclose(file), 0);
}

static void put_number(uint8_t *to, uint32_t number, int bytes) {
    for (int i = 0; i < bytes; i++) {
        to[i] = (uint8_t)(number >> (8 * i));
    }
}

/* A WAV file. @param says bytes of data that its header tells. @return its bytes. */
static size_t make_wav(uint8_t *wav, const int16_t *samples, size_t count, uint32_t rate, unsigned channels, uint32_t says) {
    memcpy(wav, "RIFF----WAVEfmt ", 16);
    put_number(wav + 4, 36 + says, 4);
    put_number(wav + 16, 16, 4);
    put_number(wav + 20, 1, 2);
    put_number(wav + 22, channels, 2);
    put_number(wav + 24, rate, 4);
    put_number(wav + 28, rate * channels * 2, 4);
    put_number(wav + 32, channels * 2, 2);
    put_number(wav + 34, 16, 2);
    memcpy(wav + 36, "data", 4);
    put_number(wav + 40, says, 4);
    for (size_t i = 0; i < count; i++) {
        put_number(wav + 44 + 2 * i, (uint16_t)samples[i], 2);
    }
    return 44 + 2 * count;
}

/* What the tool prints, and its exit code. */
static int tool(char *out, size_t size, const char *format, const char *name) {
    char arguments[1024];
    char line[2048];
    snprintf(arguments, sizeof arguments, format, folder, name);
    snprintf(line, sizeof line, "cd %s && %s %s 2>&1", GLANZ_SOURCE, GLANZ_TOOL_PATH, arguments);
    FILE *pipe = popen(line, "r");
    ck_assert_ptr_nonnull(pipe);
    size_t count = fread(out, 1, size - 1, pipe);
    while (fgetc(pipe) != EOF) {
    }
    out[count] = '\0';
    int status = pclose(pipe);
    return status >> 8;
}

START_TEST(sound_files) {
    static int16_t samples[2 * RATE];
    static uint8_t wav[100 + 4 * RATE];
    static char out[200000];
    ck_assert_ptr_nonnull(mkdtemp(folder));
    for (unsigned i = 0; i < 2 * RATE; i++) {
        samples[i] = (int16_t)lrint(12000 * sin(2 * PI * 500 * i / RATE));
    }
    put_file("fine.wav", wav, make_wav(wav, samples, RATE, RATE, 1, 2 * RATE));
    put_file("stereo.wav", wav, make_wav(wav, samples, RATE, RATE, 2, 2 * RATE)); /* 500 Hz become 1000 in each channel */
    put_file("slow.wav", wav, make_wav(wav, samples, RATE, 8000, 1, 2 * RATE));   /* and 250 */
    put_file("lies.wav", wav, make_wav(wav, samples, RATE / 2, RATE, 1, 2 * RATE));
    put_file("cut.wav", wav, 44 + 1001);
    put_file("head.wav", wav, 30);
    put_file("none.wav", wav, make_wav(wav, samples, 0, RATE, 1, 0));
    put_file("empty.wav", wav, 0);
    put_file("text.wav", "no sound", 8);
    static const struct {
        const char *name, *says;
        int code;
    } files[] = {{"fine.wav", "500.", 0},       {"stereo.wav", "1000.", 0},    {"slow.wav", "250.", 0},
                 {"lies.wav", "cut off", 0},    {"cut.wav", "cut off", 0},     {"head.wav", "cannot be", 3},
                 {"none.wav", "no sound", 3},   {"empty.wav", "cannot be", 3}, {"text.wav", "cannot be", 3},
                 {"absent.wav", "cannot be", 3}};
    for (size_t i = 0; i < sizeof files / sizeof *files; i++) {
        int code = tool(out, sizeof out, "hear %s/%s", files[i].name);
        ck_assert_msg(code == files[i].code && strstr(out, files[i].says) != NULL, "%s: %d: %s", files[i].name, code, out);
    }
    /* JSON lines, each by itself; a picture; a rig's input; raw samples by a pipe give the same */
    ck_assert_int_eq(tool(out, sizeof out, "hear %s/%s --json --every 100ms", "fine.wav"), 0);
    unsigned lines = 0;
    for (char *line = strtok(out, "\n"); line != NULL; line = strtok(NULL, "\n")) {
        ck_assert_msg(line[0] == '{' && line[strlen(line) - 1] == '}', "%s", line);
        lines++;
    }
    ck_assert_uint_ge(lines, 10);
    ck_assert_int_eq(
        tool(out, sizeof out, "hear %1$s/%2$s --plot %1$s/hear.png && head -c 4 %1$s/hear.png | grep -q PNG", "fine.wav"), 0);
    ck_assert_int_eq(tool(out, sizeof out, "hear %s/%s --rig demo/tiny.rig.json", "fine.wav"), 1);
    ck_assert_ptr_nonnull(strstr(out, "no input for sound"));
    ck_assert_int_eq(tool(out, sizeof out, "hear %s/%s --rate 7000", "fine.wav"), 2);
    ck_assert_int_eq(tool(out, sizeof out, "hear %s/%s --json --meter", "fine.wav"), 2);
    /* hum is told, and what takes it out */
    for (size_t i = 0; i < RATE; i++) {
        samples[i] = (int16_t)lrint(9000 * sin(2 * PI * 60 * (double)i / RATE) + 900 * sin(2 * PI * 1000 * (double)i / RATE));
    }
    put_file("hum.wav", wav, make_wav(wav, samples, RATE, RATE, 1, 2 * RATE));
    ck_assert_int_eq(tool(out, sizeof out, "hear %s/%s", "hum.wav"), 0);
    ck_assert_msg(strstr(out, "\"hum\": \"60 Hz\" takes it out") != NULL, "%s", out);
    ck_assert_int_eq(tool(out, sizeof out, "hear %s/%s --hum 60", "hum.wav"), 0);
    ck_assert_msg(strstr(out, "60 Hz is taken out") != NULL, "%s", out);
    ck_assert_int_eq(tool(out, sizeof out, "hear %s/%s --hum 400", "hum.wav"), 2);
    ck_assert_int_eq(tool(out, sizeof out,
                          "hear %1$s/%2$s --json > %1$s/a; tail -c +45 %1$s/%2$s | " GLANZ_TOOL_PATH
                          " hear - --json > %1$s/b; cmp %1$s/a %1$s/b",
                          "fine.wav"),
                     0);
    ck_assert_int_eq(tool(out, sizeof out, "hear %s/%s --meter", "fine.wav"), 0);
    ck_assert_ptr_nonnull(strstr(out, "gate"));
    ck_assert_int_eq(tool(out, sizeof out, "hear %s/%s --every 100ms", "cut.wav"), 0);
    ck_assert_ptr_null(strstr(out, "quietest 0.0")); /* nothing is told that was not measured */
#define EAR(name) "\\\"" name "\\\": { \\\"sound\\\": { \\\"pin\\\": 3, \\\"rate\\\": \\\"16 kHz\\\" } }, "
    /* more microphones than ears that anybody has */
    ck_assert_int_eq(tool(out, sizeof out,
                          "--help > /dev/null; sed \"s/\\\"inputs\\\": {/&" EAR("a") EAR("b") EAR("c") EAR("d")
                              EAR("e") "/\" demo/rig.json > %1$s/rig.json && " GLANZ_TOOL_PATH
                                       " play %1$s/rig.json demo/bell.show.json --sound %1$s/%2$s --for 1s",
                          "fine.wav"),
                     0);
    ck_assert_int_eq(tool(out, sizeof out, "hear alsa:nowhere %.0s%.0s", ""), 3);
    ck_assert_int_eq(
        tool(out, sizeof out, "sheet demo/tiny.rig.json demo/tiny.show.json --sound %s/%s -o /dev/null", "fine.wav"), 1);
    ck_assert_ptr_nonnull(strstr(out, "no input for sound"));
    char line[256];
    snprintf(line, sizeof line, "rm -r %s", folder);
    ck_assert_int_eq(system(line), 0);
}
END_TEST

Suite *hearing_suite(void) {
    Suite *suite = suite_create("hearing");
    TCase *tests = tcase_create("Hearing");
    tcase_add_checked_fixture(tests, NULL, teardown);
    tcase_set_timeout(tests, 240);
    tcase_add_loop_test(tests, onsets_are_edges, 0, 4);
    tcase_add_loop_test(tests, beats_and_bands_are_signals, 0, 3);
    tcase_add_test(tests, silence_and_loss);
    tcase_add_test(tests, from_sound_to_light);
    tcase_add_loop_test(tests, looks_live_on_sound, 0, 10);
    tcase_add_test(tests, refused);
    tcase_add_test(tests, sound_files);
    suite_add_tcase(suite, tests);
    return suite;
}
