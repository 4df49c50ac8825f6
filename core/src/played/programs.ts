/**
 * What the devices of the demo do, in Structured Text: each text has the points of its device by their names. Raw values, as the
 * registers hold them: 0.1 Hz is 1, 0.1 % is 1.
 */

/** Seconds since the start, and half turns of it, as devices have them that count time. */
const clock = `clock : TON;`;
const runClock = `clock(IN := TRUE, PT := T#10000d);`;
const SECONDS = `LINT_TO_UINT(TIME_TO_LINT(clock.ET) / 1000)`;

/** A heartbeat of the other side. It waits for the first beat, so that a side that was never there trips nothing. */
const watchdog = `FUNCTION_BLOCK Watchdog
VAR_INPUT
  beat : UINT;
  limit : TIME;
END_VAR
VAR_OUTPUT
  trips : BOOL;
END_VAR
VAR
  last : UINT;
  known, beaten, moved : BOOL;
  still : TON;
END_VAR
  moved := known AND beat <> last;
  beaten := beaten OR moved;
  still(IN := NOT moved, PT := limit);
  trips := beaten AND still.Q;
  last := beat;
  known := TRUE;
END_FUNCTION_BLOCK
`;

const fanDrive = `(* Ready, on, running, and a fault that only a rising reset bit clears, given while neither on nor run is asked.
   Without a word from its master for its comms timeout it trips with fault 7. *)
TYPE DriveState : (Ready, SwitchedOn, Running, Faulty); END_TYPE

PROGRAM FanDrive
VAR
  set, lastReset, resetRises : BOOL;
  state : DriveState;
  speed, perSecond : REAL;
END_VAR
  IF NOT set THEN
    set := TRUE;
    Comms_timeout := 30;
    Ramp_to_top_speed := 75;
    Top_speed := 600;
    Pulses_per_turn := 2048;
  END_IF;

  resetRises := Command_word.7 AND NOT lastReset;
  lastReset := Command_word.7;
  IF state <> Ready AND Comms_timeout > 0 AND SILENT_FOR() > UINT_TO_TIME(Comms_timeout) * 100 THEN
    state := Faulty;
  ELSE
    CASE state OF
      Ready:
        IF Command_word.0 AND NOT Command_word.1 THEN state := SwitchedOn; END_IF;
      SwitchedOn, Running:
        IF NOT Command_word.0 THEN state := Ready;
        ELSIF Command_word.1 THEN state := Running;
        ELSE state := SwitchedOn;
        END_IF;
      Faulty:
        IF resetRises AND NOT Command_word.0 AND NOT Command_word.1 THEN state := Ready; END_IF;
    END_CASE;
  END_IF;

  (* From standing to the top speed in the time that is set. *)
  perSecond := 1.0E6;
  IF Ramp_to_top_speed > 0 THEN perSecond := UINT_TO_REAL(Top_speed) * 10.0 / UINT_TO_REAL(Ramp_to_top_speed); END_IF;
  speed := RAMP(SEL(state = Running, 0, MIN(Speed_set_point, Top_speed)), perSecond);
  Actual_speed := REAL_TO_UINT(speed);
  Motor_current := 0;
  IF speed > 0.0 THEN Motor_current := REAL_TO_UINT(21.0 + (speed / 600.0) ** 2 * 120.0); END_IF;

  Status_word.0 := state <> Faulty;
  Status_word.1 := state = SwitchedOn OR state = Running;
  Status_word.2 := state = Running;
  Status_word.3 := state = Faulty;
  Status_word.4 := state = Running AND Actual_speed = Speed_set_point;
  Fault_code := SEL(state = Faulty, 0, 7);
END_PROGRAM
`;

const burnerControl = `(* Obeys its command word only while its release word is 1, and trips when its master stays silent for 4 s;
   a trip is left by a rising reset bit while burn is not asked. *)
PROGRAM BurnerControl
VAR
  burning, tripped, lastReset, resetRises : BOOL;
  goal : REAL;
END_VAR
  resetRises := Command_word.7 AND NOT lastReset;
  lastReset := Command_word.7;
  IF tripped THEN
    tripped := NOT resetRises OR Command_word.0;
  ELSIF burning AND SILENT_FOR() > T#4s THEN
    tripped := TRUE;
    burning := FALSE;
  ELSE
    burning := Release_word = 1 AND Command_word.0;
  END_IF;

  (* The flue is cold at 18.0 degrees, and warms up by 4 in a second. *)
  goal := 180.0;
  IF burning THEN goal := INT_TO_REAL(Air_set_point) * 2.0; END_IF;
  Flue_temperature := REAL_TO_INT(180.0 + RAMP(goal - 180.0, 40.0));
  Status_word.0 := Release_word = 1;
  Status_word.1 := burning;
  Status_word.3 := tripped;
END_PROGRAM
`;

const exhaustDamper = `(* Follows its set point, 0 to 1000 for 0 to 100.0 %, at 4 % in a second, with a contact at each end. *)
PROGRAM ExhaustDamper
VAR
  set : BOOL;
  blade : REAL;
END_VAR
  IF NOT set THEN
    set := TRUE;
    Set_point := 250;
  END_IF;
  blade := 250.0 + RAMP(MIN(Set_point, 1000) - 250.0, 40.0);
  Position := REAL_TO_UINT(blade);
  End_position_open := blade >= 1000.0;
  End_position_closed := blade <= 0.0;
END_PROGRAM
`;

const airOnTransmitter = `(* Temperature and humidity of the air on to the malt, drifting slowly as a kiln does. *)
PROGRAM AirOnTransmitter
  Air_on_temperature := 61.5 + SINE(T#140s, 1.8) + NOISE(0.04);
  Air_on_humidity := 48.2 - SINE(T#95s, 2.6) + NOISE(0.08);
  Mean_temperature := LAG(Air_on_temperature, T#60s);
  Serial_number := 204117;
END_PROGRAM
`;

const plantMeter = `(* Voltage beside current phase by phase, and counted energy. *)
PROGRAM PlantMeter
VAR
  ${clock}
  time : LREAL; (* in s *)
  energy : LREAL;
END_VAR
  ${runClock}
  time := TIME_TO_LREAL(clock.ET) / 1000.0;
  Active_power := 186.0 + SINE(T#377s, 22.0);
  Power_factor := 0.93;
  Voltage_L1 := LREAL_TO_REAL(231.4 + 0.5 * SIN(time / 7.0));
  Voltage_L2 := LREAL_TO_REAL(230.7 + 0.5 * SIN(time / 7.0 + 1.0));
  Voltage_L3 := LREAL_TO_REAL(230.0 + 0.5 * SIN(time / 7.0 + 2.0));
  Current_L1 := Active_power * 1000.0 / 3.0 / Voltage_L1 / Power_factor;
  Current_L2 := Active_power * 1000.0 / 3.0 / Voltage_L2 / Power_factor;
  Current_L3 := Active_power * 1000.0 / 3.0 / Voltage_L3 / Power_factor;
  Frequency := 50.0 + SINE(T#69s, 0.02);
  (* In kWh: a ramp that never gets there adds up what is given in a second. *)
  energy := LREAL#1204500.0 + RAMP(1.0E9, Active_power / 3600.0);
  Active_energy := TRUNC_UDINT(energy);
  Exported_energy := 812;
  Reactive_energy := TRUNC_UDINT(energy * 0.395);
END_PROGRAM
`;

const steepController = `${watchdog}
(* A batch that is ready a while after it was called for, though not while the heartbeat of the kiln stands still. *)
PROGRAM SteepController
VAR
  ${clock}
  kiln : Watchdog;
  steeping : TON;
  batch : UDINT := 70412;
  called, wasReady : BOOL;
END_VAR
  ${runClock}
  kiln(beat := Heartbeat_in, limit := T#4s);
  called := Call_for_batch AND NOT kiln.trips;
  wasReady := Batch_ready;
  steeping(IN := called, PT := T#8s);
  IF wasReady AND NOT called THEN batch := batch + 1; END_IF;
  Batch_ready := steeping.Q;
  Batch_number := batch;
  Steep_water_temperature := REAL_TO_INT(148.0 + SINE(T#565s, 6.0));
  Damper_wish := 700;
  Heartbeat_out := ${SECONDS};
END_PROGRAM
`;

const kilnController = `${watchdog}
(* Starts its fans in the order that the drives ask for: on, then run; a reset after a fault. It moves the damper slowly, fires
   the burner once a fan runs, and calls for a batch every minute until it is ready. *)
FUNCTION FanCommand : WORD
VAR_INPUT
  status : WORD;
  pulse : BOOL;
END_VAR
  IF status.3 THEN FanCommand := SEL(pulse, 16#00, 16#80);
  ELSIF status.1 THEN FanCommand := 16#03;
  ELSE FanCommand := 16#01;
  END_IF;
END_FUNCTION

PROGRAM KilnController
VAR
  ${clock}
  set, pulse, running : BOOL;
  steep : Watchdog;
  minute, lastMinute : UINT;
END_VAR
  IF NOT set THEN
    set := TRUE;
    Fan_north_set_point := 412;
    Fan_south_set_point := 409;
    Floor_fan_speed := 450;
    Humidity_limit := 700;
    Burner_release := 1;
    Burner_set_point := 620;
    Turner_speed_wanted := 1500;
    Turner_release := 1;
    Conveyor_outputs_are_valid := 1;
    Conveyor_command := 16#0001;
    Belt_speed_wanted := 180;
  END_IF;
  ${runClock}
  (* A reset rises once in four seconds, long enough each time to be carried. *)
  pulse := ${SECONDS} MOD 4 < 2;

  Fan_north_command := FanCommand(Fan_north_status, pulse);
  Fan_south_command := FanCommand(Fan_south_status, pulse);
  running := Fan_north_status.2 OR Fan_south_status.2;
  IF Burner_status.3 THEN Burner_command := SEL(pulse, 16#00, 16#80);
  ELSE Burner_command := SEL(running, 16#00, 16#01);
  END_IF;
  Kiln_state := SEL(running, 1, 2);
  Damper_set_point := REAL_TO_UINT(734.0 + SINE(T#180s, 120.0));
  Kiln_heartbeat := ${SECONDS};
  Turner_sequence_wanted := ${SECONDS} MOD 256;
  Conveyor_number := ${SECONDS} MOD 10;
  Grid_number := ${SECONDS} / 5 MOD 10;
  Plant_alarm := Burner_status.3;
  Power_for_the_grid := Plant_power;
  Energy_for_the_grid := Plant_energy;

  steep(beat := Steep_heartbeat, limit := T#5s);
  minute := ${SECONDS} / 60;
  IF Batch_is_ready OR steep.trips THEN Call_for_batch := FALSE;
  ELSIF minute <> lastMinute THEN Call_for_batch := TRUE;
  END_IF;
  lastMinute := minute;
END_PROGRAM
`;

const floorIo = `(* Inputs and outputs over three germination floors, with a turner that goes up and down. *)
PROGRAM FloorIo
VAR
  cooling, air1, air2, air3, turner : REAL;
  goal : REAL := 480.0;
END_VAR
  cooling := UINT_TO_REAL(Floor_fan_speed) / 50.0;
  air1 := 172.0 + RAMP(3.0 - cooling, 1.0);
  air2 := 168.0 + RAMP(4.0 - cooling, 1.0);
  air3 := 165.0 + RAMP(4.0 - cooling, 1.0);
  Floor_1_air_temperature := REAL_TO_INT(air1 + NOISE(0.6));
  Floor_2_air_temperature := REAL_TO_INT(air2 + NOISE(0.6));
  Floor_3_air_temperature := REAL_TO_INT(air3 + NOISE(0.6));
  Floor_1_malt_temperature := REAL_TO_INT(air1 + 21.0);
  Floor_2_malt_temperature := REAL_TO_INT(air2 + 19.0);
  Floor_3_malt_temperature := REAL_TO_INT(air3 + 17.0);
  Floor_1_humidity := REAL_TO_UINT(880.0 + SEL(Spray_valves.0, 0.0, 40.0) + NOISE(2.0));
  Floor_2_humidity := REAL_TO_UINT(866.0 + SEL(Spray_valves.1, 0.0, 40.0) + NOISE(2.0));
  Floor_3_humidity := REAL_TO_UINT(852.0 + SEL(Spray_valves.2, 0.0, 40.0) + NOISE(2.0));

  turner := RAMP(goal, 2.0);
  IF turner = goal THEN goal := 480.0 - goal; END_IF;
  Turner_position := REAL_TO_UINT(turner);
  Turner_speed := 120;
  (* All doors are closed; water flows where a valve is open. *)
  Doors_and_sprays := 16#0007 OR SHL(Spray_valves AND 16#0007, 8);
END_PROGRAM
`;

const humidityBridge = `PROGRAM HumidityBridge
  Loft_humidity := REAL_TO_UINT(634.0 + SINE(T#503s, 25.0));
  Loft_temperature := REAL_TO_INT(118.0 + SINE(T#691s, 9.0));
END_PROGRAM
`;

const grainCable = `(* Warmer in the middle of the bin than at its ends, drifting over hours. *)
PROGRAM GrainCable
  Temperature_1 := REAL_TO_INT(-3.6 + SINE(T#754s, 4.0));
  Temperature_12 := REAL_TO_INT(115.7 + SINE(T#700s, 4.0));
  Temperature_24 := REAL_TO_INT(-3.6 + SINE(T#650s, 4.0));
END_PROGRAM
`;

const yardDisplay = `(* A text written to it is taken over after a while; then it is ready again and repeats the text in its reply. *)
PROGRAM YardDisplay
VAR
  set : BOOL;
  shown : STRING[32];
  taking : TON;
END_VAR
  IF NOT set THEN
    set := TRUE;
    Status_word := 1;
  END_IF;
  taking(IN := Text <> shown, PT := T#1500ms);
  IF Text <> shown THEN
    Status_word := SEL(taking.Q, 0, 1);
    IF taking.Q THEN
      shown := Text;
      Reply := Text;
    END_IF;
  END_IF;
END_PROGRAM
`;

/** The checksum of a text, which both of its ends work out: all its bytes, each added to the next without carry, in hex. */
const checkOf = `FUNCTION CodeOf : BYTE
VAR_INPUT
  letter : STRING[1];
END_VAR
VAR
  place : INT;
END_VAR
  place := FIND('0123456789', letter);
  IF place > 0 THEN CodeOf := INT_TO_BYTE(16#2F + place);
  ELSE
    CASE FIND('+-.;MS', letter) OF
      1: CodeOf := 16#2B;
      2: CodeOf := 16#2D;
      3: CodeOf := 16#2E;
      4: CodeOf := 16#3B;
      5: CodeOf := 16#4D;
      6: CodeOf := 16#53;
    END_CASE;
  END_IF;
END_FUNCTION

FUNCTION CheckOf : STRING[2]
VAR_INPUT
  body : STRING[40];
END_VAR
VAR
  place : INT;
  sum : BYTE;
END_VAR
  FOR place := 1 TO LEN(body) DO
    sum := sum XOR CodeOf(MID(body, 1, place));
  END_FOR;
  CheckOf := CONCAT(MID('0123456789ABCDEF', 1, BYTE_TO_INT(SHR(sum, 4)) + 1), MID('0123456789ABCDEF', 1, BYTE_TO_INT(sum AND 16#0F) + 1));
END_FUNCTION
`;

const floorTurner = `${watchdog}
(* Drives to and fro along 42 m as fast as it is told, in mm and 0.01 m/min, while it is released and the number that comes with it
   does not stand still for three seconds. *)
PROGRAM FloorTurner
VAR
  along, goal : REAL;
  drives : BOOL;
  master : Watchdog;
  beat : TON;
END_VAR
  master(beat := Sequence_wanted, limit := T#3s);
  drives := Release = 1 AND NOT master.trips;
  IF along <= 0.0 THEN
    goal := 42000.0;
  ELSIF along >= 42000.0 THEN
    goal := 0.0;
  END_IF;
  along := RAMP(goal, SEL(drives, 0.0, INT_TO_REAL(Speed_wanted) / 6.0));
  beat(IN := NOT beat.Q, PT := T#100ms);
  IF beat.Q THEN
    Sequence := (Sequence + 1) MOD 256;
  END_IF;
  Position := REAL_TO_UDINT(along);
  Drive_temperature := REAL_TO_INT(240.0 + along / 1000.0);
  Turner_status.0 := Release = 1;
  Turner_status.1 := drives AND Speed_wanted <> 0;
  Turner_status.2 := along <= 0.0 OR along >= 42000.0;
END_PROGRAM
`;

const weighIndicator = `${checkOf}
(* Weighs one lorry after the other and sends twice a second, ended by CR: its number, the gross in kg, M while it moves or S, and a
   checksum over all before it: 0042;+018405;S;76 *)
PROGRAM WeighIndicator
VAR
  every, stays : TON;
  goal : REAL := 18405.0;
  gross : REAL;
  body : STRING[40];
  isOn : BOOL;
END_VAR
  IF NOT isOn THEN
    Weighing_number := 42;
    isOn := TRUE;
  END_IF;
  (* What is sent is what its points hold, also where a person holds them. *)
  every(IN := TRUE, PT := T#500ms);
  IF every.Q THEN
    every(IN := FALSE);
    body := CONCAT(RIGHT(CONCAT('0000', UINT_TO_STRING(Weighing_number MOD 10000)), 4), SEL(Gross_weight < 0, ';+', ';-'));
    body := CONCAT(body, RIGHT(CONCAT('000000', DINT_TO_STRING(ABS(Gross_weight))), 6), SEL(Weighing_status = 1, ';M', ';S'));
    SEND(CONCAT(body, ';', CheckOf(body), '$R'));
  END_IF;
  gross := RAMP(goal, 2500.0);
  stays(IN := gross = goal, PT := SEL(goal = 0.0, T#12s, T#3s));
  IF stays.Q THEN
    IF goal = 0.0 THEN
      Weighing_number := (Weighing_number + 1) MOD 10000;
      goal := 16000.0 + UINT_TO_REAL(Weighing_number * 37 MOD 50) * 100.0;
    ELSE
      goal := 0.0;
    END_IF;
  END_IF;
  Gross_weight := REAL_TO_DINT(gross);
  Weighing_status := SEL(gross = goal, 0, 1);
END_PROGRAM
`;

const moistureAnalyser = `(* Sends 24 characters every four seconds, without an end mark: MO, the number of the sample, moisture and temperature. *)
PROGRAM MoistureAnalyser
VAR
  every : TON;
  body : STRING[24];
END_VAR
  (* What is sent is what its points hold, also where a person holds them. *)
  every(IN := TRUE, PT := T#4s);
  IF every.Q THEN
    every(IN := FALSE);
    body := CONCAT('MO', RIGHT(CONCAT('0000', UINT_TO_STRING(Sample_number)), 4), ' ');
    body := CONCAT(body, RIGHT(CONCAT('00', UINT_TO_STRING(Moisture / 100)), 2), '.', RIGHT(CONCAT('00', UINT_TO_STRING(Moisture MOD 100)), 2), '% T ');
    body := CONCAT(body, SEL(Sample_temperature < 0, RIGHT(CONCAT('000', INT_TO_STRING(ABS(Sample_temperature) / 10)), 3),
      CONCAT('-', RIGHT(CONCAT('00', INT_TO_STRING(ABS(Sample_temperature) / 10)), 2))));
    SEND(CONCAT(body, '.', INT_TO_STRING(ABS(Sample_temperature) MOD 10), 'C  '));
    Sample_number := (Sample_number + 1) MOD 10000;
  END_IF;
  Moisture := REAL_TO_UINT(430.0 + SINE(T#97s, 25.0));
  Sample_temperature := REAL_TO_INT(615.0 + SINE(T#143s, 8.0));
END_PROGRAM
`;

const siloConveyor = `(* Runs while it is told to, at the speed that is wanted, and gives back the number that came, and one. *)
PROGRAM SiloConveyor
VAR
  belt : REAL;
  load : REAL;
END_VAR
  belt := RAMP(SEL(Conveyor_command.0, 0.0, INT_TO_REAL(Belt_speed_wanted)), 60.0);
  load := belt * 0.42;
  Conveyor_status.0 := TRUE;
  Conveyor_status.1 := belt <> 0.0;
  Belt_speed := REAL_TO_INT(belt);
  Motor_current := REAL_TO_UINT(SEL(belt <> 0.0, 0.0, 31.0 + load + NOISE(2.0)));
  Drive_temperature := REAL_TO_INT(182.0 + RAMP(load * 2.0, 1.0));
  Carried := Carried + REAL_TO_UDINT(load * 0.02);
  Number_back := UDINT_TO_UINT((UINT_TO_UDINT(Number) + 1) MOD 65536);
END_PROGRAM
`;

const gridStation = `(* Lets everything be drawn until a person says otherwise, and gives back the number that came, and one. *)
PROGRAM GridStation
  Number_back := UDINT_TO_UINT((UINT_TO_UDINT(Number) + 1) MOD 65536);
END_PROGRAM
`;

/** Each program by the name that its stand-in had when devices of the demo were played by code of their own. */
export const shippedPrograms = {
  'kiln-controller': kilnController,
  'steep-controller': steepController,
  'burner-control': burnerControl,
  'floor-io': floorIo,
  'fan-drive': fanDrive,
  'air-on-transmitter': airOnTransmitter,
  'exhaust-damper': exhaustDamper,
  'plant-meter': plantMeter,
  'grain-cable': grainCable,
  'humidity-bridge': humidityBridge,
  'yard-display': yardDisplay,
  'text-port': '',
  'floor-turner': floorTurner,
  'silo-conveyor': siloConveyor,
  'grid-station': gridStation,
  'weigh-indicator': weighIndicator,
  'moisture-analyser': moistureAnalyser,
  converter: '',
} as const;
export type ShippedProgram = keyof typeof shippedPrograms;

/** The program that played a device of an older version; null where it was played as it is now. */
export function programOfOlder(standIn: string): string | null {
  return standIn in shippedPrograms ? shippedPrograms[standIn as ShippedProgram] : null;
}
