package org.juratest.e2e.browser;

import java.io.File;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.function.Predicate;
import java.util.function.Supplier;
import java.util.logging.Level;
import java.util.logging.Logger;
import org.openqa.selenium.By;
import org.openqa.selenium.ElementNotInteractableException;
import org.openqa.selenium.Keys;
import org.openqa.selenium.NoSuchElementException;
import org.openqa.selenium.OutputType;
import org.openqa.selenium.StaleElementReferenceException;
import org.openqa.selenium.WebElement;
import org.openqa.selenium.chrome.ChromeDriver;
import org.openqa.selenium.chrome.ChromeDriverService;
import org.openqa.selenium.chrome.ChromeOptions;
import org.openqa.selenium.interactions.Actions;

/** A person at the pages: sees what they say, and acts by mouse, or by keyboard without ever touching it. */
public final class Technician implements AutoCloseable {

    /** What a person acts with. */
    public enum Hands {
        MOUSE,
        KEYBOARD
    }

    /** How long it takes to read the next confirmation, ms; quicker ones are no confirmations. */
    private static final long READING = 330;

    /** Between two looks at the page, ms. */
    private static final long BETWEEN_LOOKS = 120;

    private static final Duration PATIENCE = Duration.ofSeconds(120);
    /** After this a person clicks again. */
    private static final Duration AGAIN = Duration.ofSeconds(6);

    private static final Duration HELD = Duration.ofMillis(1400);
    private static final String TEMPERATURE = "14";
    /** Read off one after the other, as paths of a breaker differ. */
    private static final List<String> MEGOHMS =
            List.of("2400", "2650", "2310", "2550", "2470", "2720", "2180", "2260", "2390");

    private static final String PRIMARY = "[data-primary],[data-hold]";
    private static final String STAGE = "section[aria-label=Stage]";

    static {
        // It says at every start that it knows no typed commands for this version of the browser; none are used here.
        Logger.getLogger("org.openqa.selenium").setLevel(Level.SEVERE);
    }

    private final ChromeDriver browser;
    private final String address;
    private final Hands hands;
    private int entries;

    /** Opens a browser, which has nothing of any other. */
    public Technician(String address, Hands hands, int width, int height) {
        ChromeOptions options = new ChromeOptions()
                .addArguments(
                        "--headless",
                        "--no-sandbox",
                        "--disable-gpu",
                        "--disable-quic",
                        "--no-first-run",
                        "--disable-background-networking",
                        "--disable-component-update",
                        "--disable-sync",
                        "--hide-scrollbars");
        options.setBinary("/usr/bin/chromium");
        this.browser = new ChromeDriver(
                new ChromeDriverService.Builder()
                        .usingDriverExecutable(new File("/usr/bin/chromedriver"))
                        .build(),
                options);
        this.address = address;
        this.hands = hands;
        browser.executeCdpCommand(
                "Emulation.setDeviceMetricsOverride",
                Map.of("width", width, "height", height, "deviceScaleFactor", 1, "mobile", false));
    }

    public ChromeDriver browser() {
        return browser;
    }

    /** The dark scheme, or the light one. */
    public void dark(boolean dark) {
        browser.executeCdpCommand(
                "Emulation.setEmulatedMedia",
                Map.of("features", List.of(Map.of("name", "prefers-color-scheme", "value", dark ? "dark" : "light"))));
    }

    public void open(String path) {
        browser.get(address + path);
    }

    public void signIn(String person, String password) {
        open("/");
        waitFor("the sign-in", t -> t.has("#password"));
        type("person", person);
        if (hands == Hands.KEYBOARD) {
            keys(Keys.TAB);
            keys(password);
        } else {
            browser.findElement(By.id("password")).sendKeys(password);
        }
        keys(Keys.ENTER);
        // A machine that has much else to do may keep somebody waiting for longer than the page does: they try again.
        for (int n = 0; n < 3; n++) {
            waitFor("an answer", t -> t.has("section[aria-label=Stops]") || t.has("[aria-busy=false] [role=alert]"));
            if (!has("section[aria-label=Stops]") && text("[role=alert]").contains("does not answer")) {
                browser.findElement(By.id("password")).sendKeys(Keys.ENTER);
                waitFor("the next try", t -> t.has("section[aria-label=Stops]") || !t.has("[role=alert]"));
            }
        }
        waitFor("the round", t -> t.has("section[aria-label=Stops]"));
    }

    /** Starts or resumes the job of a position from the round; gives the address of its run. */
    public String start(String position) {
        String button = "[aria-label='Start " + position + "'],[aria-label='Resume " + position + "']";
        waitFor("the job of " + position, t -> t.has(button));
        if (hands == Hands.KEYBOARD) {
            tabTo(button);
            keys(Keys.ENTER);
        } else {
            click(button);
        }
        waitFor("the bench", t -> t.has("[aria-label=Deck]") && !t.primary().isEmpty());
        return String.valueOf(browser.getCurrentUrl()).substring(address.length());
    }

    /** Opens a run at the bench, and works on it from here, whoever did before. */
    public void takes(String run) {
        open("/bench/" + run);
        waitFor("the bench", t -> t.primary().equals("Work here") || t.primary().equals("Take over"));
        press();
    }

    /** Moves the focus with the Tab key until it is on an element. */
    public void tabTo(String css) {
        WebElement wanted = browser.findElement(By.cssSelector(css));
        for (int i = 0; i < 100; i++) {
            keys(Keys.TAB);
            if (browser.switchTo().activeElement().equals(wanted)) {
                return;
            }
        }
        throw new IllegalStateException("the Tab key does not reach " + css);
    }

    /** Sends what is being typed in a dialog. */
    public void send() {
        new Actions(browser)
                .keyDown(Keys.CONTROL)
                .sendKeys(Keys.ENTER)
                .keyUp(Keys.CONTROL)
                .perform();
    }

    public void keys(CharSequence... keys) {
        new Actions(browser).sendKeys(keys).perform();
    }

    public boolean has(String css) {
        return !browser.findElements(By.cssSelector(css)).isEmpty();
    }

    /**
     * Text of the first element as it is seen; empty if there is none at the moment. One question to the browser,
     * however often it is asked: what is watched has better things to do.
     */
    public String text(String css) {
        return String.valueOf(
                        browser.executeScript("return document.querySelector(arguments[0])?.innerText ?? ''", css))
                .strip();
    }

    public void click(String css) {
        clicked(css, By.cssSelector(css));
    }

    /** Clicks as soon as it is there and takes a click: a page may draw itself anew in the same moment. */
    private void clicked(String what, By by) {
        waitFor(what, t -> {
            try {
                WebElement element = t.browser.findElement(by);
                if (!element.isEnabled()) {
                    return false;
                }
                element.click();
                return true;
            } catch (NoSuchElementException | StaleElementReferenceException | ElementNotInteractableException e) {
                return false;
            }
        });
    }

    /**
     * Follows a link until what it leads to is there: a page that draws itself anew between the press and the release
     * of the button takes the click for none, and a person then clicks again.
     */
    public void follow(String css, String what, Predicate<Technician> until) {
        long again = System.nanoTime();
        long end = System.nanoTime() + PATIENCE.toNanos();
        while (!holds(until)) {
            if (System.nanoTime() > end) {
                throw new IllegalStateException("waited in vain for " + what + "; the page says:\n" + text("body"));
            }
            if (System.nanoTime() >= again) {
                again = System.nanoTime() + AGAIN.toNanos();
                browser.findElements(By.cssSelector(css)).stream().findFirst().ifPresent(e -> {
                    try {
                        e.click();
                    } catch (StaleElementReferenceException | ElementNotInteractableException gone) {
                        pause(BETWEEN_LOOKS);
                    }
                });
            }
            pause(BETWEEN_LOOKS);
        }
    }

    /** Clicks what carries these words within an element. */
    public void clickWords(String within, String words) {
        clicked("\"" + words + "\"", By.xpath(xpath(within, words)));
    }

    private static String xpath(String within, String words) {
        return within
                + "//*[self::button or self::label or self::a or @role='menuitem'][starts-with(normalize-space(.), \""
                + words + "\")]";
    }

    /** What the large button says. */
    public String primary() {
        return text(PRIMARY)
                .replace("Enter\n", "")
                .replaceAll("\\s*\\bEnter$", "")
                .replaceAll("\\s+", " ")
                .trim();
    }

    public String stage() {
        return text(STAGE);
    }

    /** Types into a field that a person at the keyboard finds in focus. */
    public void type(String id, String text) {
        waitFor("the field " + id, t -> t.has("#" + id + ":enabled"));
        if (hands == Hands.KEYBOARD) {
            waitFor(
                    "the focus in " + id,
                    t -> id.equals(t.browser.switchTo().activeElement().getDomAttribute("id")));
            keys(text);
        } else {
            WebElement field = browser.findElement(By.id(id));
            field.clear();
            field.sendKeys(text);
        }
    }

    /** Writes into a field in place of what is in it. */
    public void fill(String css, String text) {
        waitFor(
                "the field " + css,
                t -> t.has(css) && t.browser.findElement(By.cssSelector(css)).isEnabled());
        WebElement field = browser.findElement(By.cssSelector(css));
        field.sendKeys(Keys.chord(Keys.CONTROL, "a"), text);
    }

    /** Chooses from a list by its words. */
    public void choose(String css, String words) {
        waitFor(
                "the list " + css,
                t -> t.has(css) && t.browser.findElement(By.cssSelector(css)).isEnabled());
        choose(css, () -> browser.findElement(By.cssSelector(css)), words);
    }

    /** Chooses by words from a list that its address alone does not tell from others. */
    public void choose(String css, Supplier<WebElement> list, String words) {
        // What there is to choose from may come after the list itself.
        waitFor("\"" + words + "\" among the choices of " + css, t -> {
            if (!t.has("[role=listbox]")) {
                list.get().click();
            }
            if (Boolean.TRUE.equals(t.browser.executeScript(
                    "return [...document.querySelectorAll('[role=option]')].some(o => "
                            + "o.innerText.trim() === arguments[0])",
                    words))) {
                return true;
            }
            t.keys(Keys.ESCAPE);
            return false;
        });
        WebElement option = (WebElement) browser.executeScript(
                "return [...document.querySelectorAll('[role=option]')].find(o => o.innerText.trim() === arguments[0])",
                words);
        browser.executeScript("arguments[0].scrollIntoView({ block: 'nearest' })", option);
        new Actions(browser).moveToElement(option).click().perform();
        waitFor("the list " + css + " to be closed", t -> !t.has("[role=listbox]"));
    }

    /** Hands a file to a field for files. */
    public void hand(String css, Path file) {
        browser.findElement(By.cssSelector(css)).sendKeys(file.toAbsolutePath().toString());
    }

    /** Hands several files at once. */
    public void hand(String css, List<Path> files) {
        browser.findElement(By.cssSelector(css))
                .sendKeys(files.stream()
                        .map(f -> f.toAbsolutePath().normalize().toString())
                        .collect(java.util.stream.Collectors.joining("\n")));
    }

    /** Presses the large button. */
    public void press() {
        if (hands == Hands.KEYBOARD) {
            keys(Keys.ENTER);
        } else {
            click("[data-primary]");
        }
    }

    /** Holds the large button, or Enter, long enough to switch on. */
    public void hold() {
        Actions actions = new Actions(browser);
        if (hands == Hands.KEYBOARD) {
            actions.keyDown(Keys.ENTER).pause(HELD).keyUp(Keys.ENTER).perform();
        } else {
            actions.clickAndHold(browser.findElement(By.cssSelector("[data-hold]")))
                    .pause(HELD)
                    .release()
                    .perform();
        }
    }

    /** Waits until something is so, and says what was seen instead if it never is. */
    public void waitFor(String what, Predicate<Technician> condition) {
        long end = System.nanoTime() + PATIENCE.toNanos();
        while (!holds(condition)) {
            if (System.nanoTime() > end) {
                throw new IllegalStateException("waited in vain for " + what + "; the page says:\n" + text("body"));
            }
            pause(BETWEEN_LOOKS);
        }
    }

    private boolean holds(Predicate<Technician> condition) {
        try {
            return condition.test(this);
        } catch (StaleElementReferenceException e) {
            return false;
        }
    }

    /**
     * Does what the deck asks for, until something is so. The device's plate says {@code serial}. A person gives up
     * when nothing moves any more, not because a slow machine has many steps; and does not leave the bench for the
     * record on the way to something that stands on the bench.
     */
    public void work(String serial, String what, Predicate<Technician> until) {
        long end = System.nanoTime() + PATIENCE.toNanos();
        long last = System.nanoTime() + 5 * PATIENCE.toNanos();
        String seen = "";
        while (true) {
            // Read first: only what says that it waits changes by itself, so what is read here still holds when it is
            // pressed.
            String words = primary();
            if (holds(until)) {
                return;
            }
            String sight = words + stage();
            if (!sight.equals(seen)) {
                seen = sight;
                end = Math.min(last, System.nanoTime() + PATIENCE.toNanos());
            }
            if (System.nanoTime() > end || words.equals("Read and sign the record")) {
                throw new IllegalStateException("worked in vain until " + what + "; the page says:\n" + text("body"));
            }
            if (words.isEmpty() || words.matches(".*…|Cooling.*|Measuring.*|Falls.*|Waiting.*")) {
                pause(BETWEEN_LOOKS);
                continue;
            }
            // Finishing cannot be taken back: a page that was just drawing itself anew is looked at again.
            if (words.startsWith("Finish")) {
                pause(BETWEEN_LOOKS);
                if (holds(until)) {
                    return;
                }
            }
            String before = words + stage();
            try {
                act(words, serial);
            } catch (StaleElementReferenceException redrawn) {
                // The button was drawn anew under the finger, and nothing was pressed: it is looked at again.
                continue;
            }
            long changed = System.nanoTime() + Duration.ofSeconds(5).toNanos();
            while ((primary() + stage()).equals(before) && System.nanoTime() < changed) {
                pause(BETWEEN_LOOKS);
            }
        }
    }

    private void act(String words, String serial) {
        if (words.startsWith("Compare")) {
            entered("serial", serial);
        } else if (words.equals("Enter the temperature")) {
            entered("temperature", TEMPERATURE);
        } else if (words.startsWith("Enter ")) {
            entered("value", MEGOHMS.get(entries++ % MEGOHMS.size()));
        } else if (words.startsWith("Hold ")) {
            hold();
        } else if (words.startsWith("Tick ")) {
            tick(Integer.parseInt(words.split(" ")[1]));
        } else {
            press();
        }
    }

    /**
     * Ticks one of the confirmations on the stage, from 1: by its number, or by a press on it, as a person who reads
     * each does.
     */
    public void tick(int number) {
        pause(READING);
        if (hands == Hands.KEYBOARD && number <= 9) {
            keys(String.valueOf(number));
        } else {
            browser.findElement(By.xpath("(//section[@aria-label='Stage']//input[@type='checkbox'])[" + number + "]"))
                    .click();
        }
    }

    private void entered(String id, String text) {
        type(id, text);
        keys(Keys.ENTER);
    }

    /** Goes on before the device has cooled, with a reason, if it is still cooling. */
    public void doNotWaitToCool(String reason) {
        if (primary().startsWith("Cooling")) {
            clickWords("//footer", "More");
            clickWords("//body", "Go on before it has cooled");
            type("words", reason);
            clickWords("//form", "Go on now");
            waitFor("the dialog to close", t -> !t.has("[role=dialog]"));
        }
    }

    /** Keeps what the screen shows as a PNG. */
    public void picture(Path file) {
        try {
            Files.write(file, browser.getScreenshotAs(OutputType.BYTES));
        } catch (IOException e) {
            throw new java.io.UncheckedIOException(e);
        }
    }

    private static void pause(long millis) {
        try {
            Thread.sleep(millis);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new IllegalStateException("interrupted", e);
        }
    }

    @Override
    public void close() {
        browser.quit();
    }
}
