/* SPDX-License-Identifier: MIT */
/* Golden frames: for every effect, chip and kind of change one line with the CRC-32 of all bytes that went out. Built by
 * tests/golden.sh with every compiler at hand; every build must print tests/golden.txt. */
#include <stdio.h>
#include <string.h>

#include "stage.h"

static struct stage stage;

static void print(const char *kind, const char *name, const char *rig, const char *show, void (*play)(void)) {
    glanz_status status = stage_open(&stage, rig, show);
    if (status != GLANZ_OK) {
        printf("%s %s: %s: %s at %s\n", kind, name, glanz_status_name(status), stage.fault.text, stage.fault.where);
    } else {
        stage_run(&stage, 0, 1500000, 100);
        play();
        printf("%-8s %-14s %3u frames %08x\n", kind, name, stage.sent, (unsigned)stage.hash);
    }
    stage_close(&stage);
}

static void play_on(void) {
    stage_run(&stage, 1500000, 4000000, 100);
}

static void play_fades(void) { /* four looks in a second, so that one has to wait */
    for (uint64_t i = 0; i < 4; i++) {
        struct glanz_change change = {glanz_device_clock(stage.device), 900};
        (void)!glanz_engine_look(glanz_device_engine(stage.device), 0, &stage.show->looks[i], change);
        stage_run(&stage, 1500000 + i * 250000, 1750000 + i * 250000, 100);
    }
    stage_run(&stage, 2500000, 4000000, 100);
}

static void play_button(void) {
    static const uint32_t edges[] = {1600000, 1603000, 1603500, 1680000, 2200000, 2290000, 2400000, 2480000, 3000000, 3900000};
    for (unsigned i = 0; i < 10; i++) {
        stage_run(&stage, i == 0 ? 1500000 : edges[i - 1] + 1, edges[i], 87);
        glanz_device_push(stage.device, 0, (uint16_t)(i % 2), edges[i]);
        stage_frame(&stage, edges[i] + 1);
    }
    stage_run(&stage, 3900002, 9000000, 87);
}

int main(void) {
    char rig[700];
    char show[2500];
    for (int closed = 0; closed < 2; closed++) {
        for (int e = 0; glanz_effects[e] != NULL; e++) {
            const char *needs = (glanz_effects[e]->needs & GLANZ_NEEDS_PATTERN) != 0
                                    ? ",'blocks':'3 #ffb000, 1 2900 K, 2 #008f8a','speed':'2.5 leds/s'"
                                : (glanz_effects[e]->needs & GLANZ_NEEDS_GRADIENT) != 0 ? ",'palette':'oil film'"
                                                                                        : "";
            snprintf(rig, sizeof rig,
                     "{'rig':'g','supplies':{'s':{'volts':'5 V','limit':'300 "
                     "mA'}},'outputs':{'o':{'pin':1,'supply':'s','line':[{'chip':'WS2812B','leds':57,"
                     "'trim':{'green':'91 %%','blue':'83 "
                     "%%'}}]}},'surfaces':{'a':{'%s':[{'output':'o','first':3,'leds':50,'reversed':%s}]}}}",
                     closed ? "ring" : "strip", closed ? "true" : "false");
            snprintf(
                show, sizeof show,
                "{'show':'g','brightness':'85 %%','looks':{'l':{'effect':'%s'%s}},'segments':{'s':{'surface':'a','look':'l'}}}",
                glanz_effects[e]->name, needs);
            print(closed ? "ring" : "strip", glanz_effects[e]->name, rig, show, play_on);
        }
    }
    static const char flow[] = "{'show':'g','looks':{'l':{'effect':'flow','palette':'full circle','speed':'0.3 "
                               "lengths/s'},'m':{'effect':'breathing','speed':'3 s/pass','low':'0 %'}},"
                               "'segments':{'s':{'surface':'a','look':'l'},'t':{'surface':'a','stencil':'take 2, leave 3, take "
                               "1, leave 1','blend':'multiply','opacity':'70 %','look':'m'}},'stack':['s','t']}";
    for (int c = 0; glanz_chips[c] != NULL; c++) {
        snprintf(rig, sizeof rig,
                 "{'rig':'g','lowest blink':'%s','supplies':{'s':{'volts':'5 V','limit':'1 "
                 "A'}},'outputs':{'o':{'pin':1,%s'supply':'s','line':[{'chip':'%s','leds':40%s}]}},"
                 "'surfaces':{'a':{'strip':[{'output':'o','first':0,'leds':40}]}}}",
                 c % 2 ? "none" : "30 Hz", glanz_chips[c]->protocol == GLANZ_CLOCKED ? "'clock pin':2," : "",
                 glanz_chips[c]->name, glanz_chips[c]->channels == 4 ? ",'white':'4000 K'" : "");
        print("chip", glanz_chips[c]->name, rig, flow, play_on);
    }
    static const char changes[] =
        "{'show':'g','change':'400 ms','colors':{'c':'hsl(30 90% 40%)'},'palettes':{'p':{'stops':[{'at':'0 "
        "%','color':'c'},{'at':'30 %','color':'#000'},{'at':'100 %','color':'9000 K'}],'between':'even'}},"
        "'looks':{'a':{'effect':'comet','color':'c','way':'there and back'},'b':{'effect':'flow','palette':'p','span':'20 "
        "leds'},'c':{'effect':'twinkle','palette':'p','share':'80 %'},"
        "'d':{'effect':'escort','gap':'3.3 leds','speed':'-7 "
        "leds/"
        "s'}},'segments':{'s':{'surface':'a','look':'a','grain':2,'mirrored':true},'t':{'surface':'a','first':10,'leds':11,'"
        "blend':'add','look':'d'}},"
        "'stack':['s','t'],'presets':{'one':{'s':'b','t':{'on':false}},'two':{'s':'c','t':{'on':true,'brightness':'40 "
        "%'}},'three':{'s':'d'}},"
        "'playlists':{'l':{'items':[{'preset':'one','hold':'700 ms','fade':'300 ms'},{'preset':'two','hold':'0.5 s','fade':'1 "
        "s'},{'preset':'three','hold':'1 s'}]}},"
        "'triggers':{'p':{'when':{'button':'k','is':'pressed "
        "once'},'do':[{'play':'l'}]},'q':{'when':{'button':'k','is':'pressed twice'},'do':[{'next':'l'}]},"
        "'h':{'when':{'button':'k','is':'held'},'do':[{'brightness':'20 %','over':'1 s'}]}}}";
    print("change", "fades", strip_rig(45), changes, play_fades);
    print("change", "button", strip_rig(45), changes, play_button);
    return 0;
}
