package org.juratest.e2e;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.openqa.selenium.By;
import org.openqa.selenium.WebDriver;
import org.openqa.selenium.WebElement;
import org.openqa.selenium.chrome.ChromeDriver;
import org.openqa.selenium.chrome.ChromeDriverService;
import org.openqa.selenium.chrome.ChromeOptions;
import org.openqa.selenium.support.ui.ExpectedConditions;
import org.openqa.selenium.support.ui.WebDriverWait;

/** The first page in a browser: it says what the installation holds, and what is wrong when the server dies. */
class FirstPageTest {

  @TempDir
  private Path folder;

  @Test
  void theFirstPageSaysWhatIsThereAndWhatIsWrong() throws Exception {
    try (Installation it = new Installation(folder)) {
      it.startServer();
      WebDriver browser = browser();
      try {
        WebDriverWait wait = new WebDriverWait(browser, Duration.ofSeconds(20));
        browser.get(it.address());
        wait.until(ExpectedConditions.presenceOfElementLocated(By.xpath("//dt[text()='sites']/following-sibling::dd[text()='8']")));
        assertEquals("Juratest", browser.getTitle());
        assertTrue(Integer.parseInt(browser.findElement(By.xpath("//dt[text()='assets']/following-sibling::dd")).getText()) >= 40);
        List<WebElement> alerts = browser.findElements(By.cssSelector("[role=alert]"));
        assertTrue(alerts.isEmpty());
        it.killServer();
        wait.until(ExpectedConditions.textToBePresentInElementLocated(By.cssSelector("[role=alert]"), "The server does not say what it holds"));
      } finally {
        browser.quit();
      }
    }
  }

  private WebDriver browser() {
    ChromeOptions options = new ChromeOptions().addArguments("--headless", "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run",
        "--disable-background-networking", "--disable-component-update", "--disable-sync", "--user-data-dir=" + folder.resolve("browser"));
    options.setBinary("/usr/bin/chromium");
    return new ChromeDriver(new ChromeDriverService.Builder().usingDriverExecutable(new java.io.File("/usr/bin/chromedriver")).build(), options);
  }
}
