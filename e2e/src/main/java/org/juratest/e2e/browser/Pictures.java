package org.juratest.e2e.browser;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import org.juratest.e2e.Installation;
import org.juratest.server.command.ApiClient;
import org.openqa.selenium.By;

/** {@code ./juratest pictures}: takes the pictures of the main views, by working a job of the demo. */
public final class Pictures {

  private static final String POSITION = "MFR-CBK-07";

  private final Technician it;
  private final Installation installation;
  private final Path into;

  private Pictures(Technician it, Installation installation, Path into) {
    this.it = it;
    this.installation = installation;
    this.into = into;
  }

  /** @param arguments the folder the pictures go to */
  public static void main(String[] arguments) throws Exception {
    Path folder = Files.createTempDirectory("juratest-pictures");
    try (Installation installation = new Installation(folder, Path.of(""))) {
      installation.startSimulators(100);
      installation.startServer();
      try (Technician it = new Technician(folder.resolve("browser"), installation.address(), Technician.Hands.MOUSE, 1280, 800)) {
        it.dark(false);
        new Pictures(it, installation, Path.of(arguments[0])).take();
      }
    }
  }

  private void take() throws Exception {
    it.open("/");
    it.waitFor("the counts", t -> t.has("dl"));
    picture("sign-in");
    it.signIn("tavel", "rack-rail-16");
    picture("round");
    it.dark(true);
    picture("round-dark");
    it.dark(false);
    ApiClient api = new ApiClient(installation.address());
    api.signIn("tavel", "rack-rail-16");
    String serial = api.get("/api/jobs").path("jobs").valueStream().filter(j -> j.path("position").asString().equals(POSITION)).findFirst().orElseThrow()
        .path("serial").asString();
    it.start(POSITION);
    it.work(serial, "the scope", t -> t.primary().startsWith("Begin"));
    picture("bench-scope");
    it.work(serial, "the second question", t -> t.stage().contains("2 of 3"));
    picture("bench-question");
    it.work(serial, "a confirmation", t -> t.primary().equals("Confirm 3 of 5"));
    picture("bench-confirm");
    it.work(serial, "an entry", t -> t.primary().startsWith("Enter path A to earth"));
    picture("bench-entry");
    it.work(serial, "the contacts", t -> t.primary().startsWith("Go on: settings"));
    picture("bench-contact");
    it.work(serial, "the late pole armed", t -> t.primary().startsWith("Hold to switch on pole B") && t.stage().contains("until it trips"));
    picture("bench-armed");
    installation.control("factor 2");
    it.hold();
    it.waitFor("the open window", t -> t.text("[data-elapsed]").matches("(1[5-9]|2\\d)\\.\\d.s"));
    picture("bench-live");
    it.dark(true);
    picture("bench-live-dark");
    it.dark(false);
    size(820, 1180);
    picture("bench-live-tablet");
    size(1280, 800);
    it.waitFor("the late trip", t -> t.text("[data-sentence]").contains("Adjust or repair it"));
    picture("bench-failed");
    installation.control("factor 100");
    it.clickWords("//section", "Adjusted…");
    it.type("words", "Mechanism exercised ten times, latch cleaned and greased");
    it.clickWords("//form", "Record it");
    installation.control("slow " + POSITION + ":B 1.02");
    // At the pace of the picture it would take two minutes.
    it.doNotWaitToCool("Only for the picture");
    it.work(serial, "the filed record", t -> t.primary().equals("Read and sign the record"));
    picture("bench-filed");
    it.press();
    it.waitFor("the record", t -> t.has("[data-headline]"));
    it.waitFor("its curve", t -> t.has("[data-traces] canvas"));
    picture("record");
    it.dark(true);
    picture("record-dark");
    it.dark(false);
    String number = it.browser().findElement(By.cssSelector("[data-record]")).getDomAttribute("data-record");
    it.open("/compare?of=" + number + "&with=last&with=baseline&changed=1");
    it.waitFor("the comparison", t -> t.has("[data-compared]"));
    picture("compare");
    it.open("/asset/" + POSITION);
    it.waitFor("its life", t -> t.has("figure a"));
    picture("asset");
    it.open("/records?from=" + java.time.LocalDate.now().minusMonths(6));
    it.waitFor("the list", t -> t.has("tr[data-record]"));
    picture("records");
  }

  private void size(int width, int height) {
    it.browser().executeCdpCommand("Emulation.setDeviceMetricsOverride", Map.of("width", width, "height", height, "deviceScaleFactor", 1, "mobile", false));
  }

  private void picture(String name) throws InterruptedException {
    // Fonts and the drawing of a canvas come a moment after the words.
    Thread.sleep(600);
    it.picture(into.resolve(name + ".png"));
    System.out.println(name);
  }
}
